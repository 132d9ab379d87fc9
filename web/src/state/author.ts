/** Who works in this browser, as the history names them. It stays in the browser. */

const KEY = "anchor-bend-author";

export const author = (): string => window.localStorage.getItem(KEY) ?? "";

export const setAuthor = (name: string): void => window.localStorage.setItem(KEY, name);

/** This window, for the server: what it asks for is told from what others do. */
export const client = Math.random().toString(36).slice(2);
