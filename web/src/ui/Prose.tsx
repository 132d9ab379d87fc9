import { Fragment } from "react";
import { MathText } from "./Math";
import { piecesOf } from "./prose";

/** A text with mathematics between dollar signs and links as [words](target): to a page, or with # to a part by its name. */
export const Prose = ({ text }: { text: string }) => (
  <>
    {piecesOf(text).map((p, i) =>
      p.kind === "math" ? (
        <MathText key={i} tex={p.text} />
      ) : p.kind === "page" ? (
        <a key={i} href={p.target} target="_blank" rel="noopener noreferrer">
          {p.text}
        </a>
      ) : p.kind === "part" ? (
        <button key={i} type="button" className="part-link" data-goes={p.target}>
          {p.text}
        </button>
      ) : (
        <Fragment key={i}>{p.text}</Fragment>
      ),
    )}
  </>
);
