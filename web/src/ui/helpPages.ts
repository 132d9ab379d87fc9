import { mathHtml } from "./Math";

/** A page of the help with its mathematics typeset; words between dollar signs are mathematics too. */
export function withMathematics(html: string): string {
  const holder = document.createElement("template");
  holder.innerHTML = html;
  for (const element of holder.content.querySelectorAll(".tex")) element.innerHTML = mathHtml(element.textContent);
  const walk = document.createTreeWalker(holder.content, NodeFilter.SHOW_TEXT);
  const texts: Text[] = [];
  while (walk.nextNode()) texts.push(walk.currentNode as Text);
  for (const text of texts) {
    if (!text.data.includes("$") || text.parentElement?.closest("code, pre, .katex")) continue;
    const pieces = text.data.split("$");
    // A dollar sign alone is one.
    if (pieces.length % 2 === 0) continue;
    text.replaceWith(
      ...pieces.map((piece, i) => {
        if (i % 2 === 0) return document.createTextNode(piece);
        const span = document.createElement("span");
        span.innerHTML = mathHtml(piece);
        return span;
      }),
    );
  }
  return holder.innerHTML;
}

/** The address of a topic. */
export const topicAddress = (id: string): string => `#/help/${id}`;
