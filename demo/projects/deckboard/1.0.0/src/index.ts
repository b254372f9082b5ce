/**
 * What the crew sees on the tablet.
 *
 * Make a {@link Board}, hang {@link Tile | tiles} on it, and let {@link Board.refresh} do the rest.
 * How it is used at night stands in [the handbook](api://harbour-handbook/night).
 *
 * @packageDocumentation
 */
export { Board, type BoardOptions } from "./board";
export { Tile, TextTile, GaugeTile, type TileState } from "./tiles";
export * from "./alarms";
export * as format from "./format";
export { VERSION as version } from "./version";
