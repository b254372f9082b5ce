export interface ApexOptions {}
export default class ApexCharts {}
