import { MathText } from "./Math";

/** A text with mathematics between dollar signs. */
export const Prose = ({ text }: { text: string }) => (
  <>{text.split("$").map((piece, i) => (i % 2 === 1 ? <MathText key={i} tex={piece} /> : piece))}</>
);
