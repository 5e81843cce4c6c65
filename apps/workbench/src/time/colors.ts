/** The colors of the page's theme by their names, as canvases need them. */
export type Colors = (name: string) => string;
