export default class ApexCharts {}
