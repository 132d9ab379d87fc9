/** The word that is being typed at the end of an expression; empty behind anything else. */
export const wordAt = (text: string): string => /(?:'[^']*|[A-Za-z_][\w.]*)$/.exec(text)?.[0].replace(/^'/, "") ?? "";

/** The expression with its last word exchanged. */
export function completed(text: string, by: string): string {
  const last = /(?:'[^']*|[A-Za-z_][\w.]*)$/.exec(text);
  return (last ? text.slice(0, last.index) : text) + by;
}
