/** Version of the board. */
export const VERSION = "2.0.0";
