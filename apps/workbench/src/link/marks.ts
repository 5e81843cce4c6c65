const page = Math.random().toString(36).slice(2, 10);
let count = 0;

/** A mark that no other request has, of this page or another. */
export const newMark = () => `${page}-${++count}`;
