import { APPLIED, HAND } from "../../state/tune";

/** Colours and marks of designs, told apart by shape as well. */
const colors: Record<string, string> = {
  [APPLIED]: "#6B7F92",
  [HAND]: "#D9481C",
  A: "#0072B2",
  B: "#CC79A7",
  C: "#009E73",
  D: "#B8860B",
  E: "#56B4E9",
  F: "#7A4E8C",
  G: "#8B5A2B",
  H: "#17324D",
};

export const colorOf = (name: string): string => colors[name] ?? "#17324D";

const shapes = [
  <rect key="s" x="-4" y="-4" width="8" height="8" />,
  <path key="t" d="M0-5L5.2 4.4H-5.2z" />,
  <circle key="c" r="4.6" />,
  <path key="d" d="M0-5.6L5.6 0 0 5.6-5.6 0z" />,
];

/** The mark of a design: an anchor for what is applied, a ring for what is in hand, filled shapes for candidates. */
export function Mark({ name }: { name: string }) {
  if (name === APPLIED)
    return (
      <g fill="none" stroke={colorOf(name)} strokeWidth="1.7" strokeLinecap="round">
        <circle cy="-5.6" r="1.7" />
        <path d="M0-4V6M-3.2-1.6H3.2M-5.4 1.6C-5 4.8-2.6 6 0 6S5 4.8 5.4 1.6" />
      </g>
    );
  if (name === HAND)
    return (
      <g>
        <circle r="4.8" fill="#fff" stroke={colorOf(name)} strokeWidth="2.2" />
        <circle r="1.4" fill={colorOf(name)} />
      </g>
    );
  return <g fill={colorOf(name)}>{shapes[(name.charCodeAt(0) - 65) % shapes.length]}</g>;
}

export const MarkIcon = ({ name }: { name: string }) => (
  <svg width="14" height="14" viewBox="-7 -7 14 14" aria-hidden>
    <Mark name={name} />
  </svg>
);
