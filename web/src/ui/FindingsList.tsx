import classNames from "classnames/bind";
import { Button } from "antd";
import type { FindingView } from "../api/client";
import styles from "./ui.module.css";

const cx = classNames.bind(styles);

interface Props {
  findings: readonly FindingView[];
  onShow: (part: string) => void;
  onFix: (fix: FindingView["fixes"][number]) => void;
}

/** Findings with their place, reason and fix. */
export function FindingsList({ findings, onShow, onFix }: Props) {
  if (findings.length === 0) return <p className="quiet">Nothing to report: the model can run.</p>;
  const order = { error: 0, warning: 1, information: 2 } as Record<string, number>;
  return (
    <ul className={cx("findings")}>
      {[...findings]
        .sort((a, b) => (order[a.severity] ?? 3) - (order[b.severity] ?? 3))
        .slice(0, 100)
        .map((f, i) => (
          <li key={i} className={cx(f.severity)}>
            <span aria-label={f.severity}>⚑</span>
            <div>
              {f.part && (
                <Button type="link" size="small" className={cx("place")} onClick={() => f.part && onShow(f.part)}>
                  {f.partName}
                  {f.item ? ` ▸ ${f.item}` : ""}
                </Button>
              )}{" "}
              {f.message} {f.suggestion}
              {f.help && (
                <details>
                  <summary>Explain</summary>
                  <p>{f.help}</p>
                </details>
              )}
              {f.fixes.map((fix) => (
                <Button key={fix.label} size="small" className={cx("fix")} onClick={() => onFix(fix)}>
                  {fix.label}
                </Button>
              ))}
            </div>
          </li>
        ))}
    </ul>
  );
}
