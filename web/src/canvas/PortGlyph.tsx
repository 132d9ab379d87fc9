import classNames from "classnames/bind";
import styles from "./canvas.module.css";

const cx = classNames.bind(styles);
/** The mark of a physical port: a shape for each domain, so that colour alone never tells. */
const shapes: Record<string, { d: string; filled: boolean }> = {
  translational: { d: "M3 1.5V8.5M7 1.5V8.5", filled: false },
  rotational: { d: "M7.5 2.2A3.7 3.7 0 1 0 8.7 5", filled: false },
  electrical: { d: "M1.6 5A3.4 3.4 0 1 0 8.4 5A3.4 3.4 0 1 0 1.6 5Z", filled: true },
  hydraulic: { d: "M5 .8C6.6 3.2 8.2 4.6 8.2 6.2A3.2 3.2 0 0 1 1.8 6.2C1.8 4.6 3.4 3.2 5 .8Z", filled: true },
  plane: { d: "M1.8 1.8H8.2V8.2H1.8Z", filled: false },
  fluid: { d: "M1.8 1.8H8.2V8.2H1.8ZM1.8 5C3.4 3.4 4.2 3.8 5 5S6.6 6.6 8.2 5", filled: false },
  thermal: { d: "M1.4 8.4L5 1.6L8.6 8.4Z", filled: true },
};

export function PortGlyph({ domain }: { domain: string }) {
  const shape = shapes[domain] ?? { d: "M2 5H8M5 2V8", filled: false };
  return (
    <svg className={cx("port-glyph", domain, { filled: shape.filled })} viewBox="0 0 10 10" width="10" height="10" aria-hidden>
      <rect x="0" y="0" width="10" height="10" rx="2" fill="var(--surface)" stroke="none" />
      <path d={shape.d} />
    </svg>
  );
}
