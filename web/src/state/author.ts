/** Who works in this browser, as the history names them. It stays in the browser. */

const KEY = "anchor-bend-author";

export const author = (): string => window.localStorage.getItem(KEY) ?? "";

export const setAuthor = (name: string): void => window.localStorage.setItem(KEY, name);
