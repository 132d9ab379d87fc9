import classNames from "classnames/bind";
import { useEffect, useMemo, useRef, type KeyboardEvent } from "react";
import { useShallow } from "zustand/react/shallow";
import { lookAt, reachOf, useDeliveries, type LineCount, type WrittenCode } from "../../state/deliveries";
import { tokenLines } from "./cTokens";
import styles from "./deliver.module.css";

const cx = classNames.bind(styles);

/** A file of code, with what the checks reached of each line. A line leads to the part that it comes from. */
export function CodeView({ id, code }: { id: string; code: WrittenCode }) {
  const { file: chosen, line, check } = useDeliveries(useShallow((s) => ({ file: s.file, line: s.line, check: s.checks.get(id) })));
  const source = code.files.find((f) => f.name.endsWith(".c"));
  const file = code.files.find((f) => f.name === chosen) ?? source;
  const lines = useMemo(() => (file ? tokenLines(file.text.replace(/\n$/, "")) : []), [file]);
  const places = useMemo(() => new Map(file?.lines.map((l) => [Number(l.line), l]) ?? []), [file]);
  const counts = useMemo(() => (file === source ? reachOf(check, code.hash) : new Map<number, LineCount>()), [file, source, check, code]);
  const place = line === null ? undefined : places.get(line)?.place;
  const body = useRef<HTMLDivElement>(null);
  useEffect(() => {
    body.current?.querySelector('[aria-current="true"]')?.scrollIntoView({ block: "nearest" });
  }, [line]);
  const onKeyDown = (e: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1, PageDown: 20, PageUp: -20 }[e.key];
    if (by === undefined) return;
    e.preventDefault();
    lookAt(Math.min(lines.length, Math.max(1, (line ?? (by > 0 ? 0 : lines.length + 1)) + by)));
  };
  if (!file) return null;
  return (
    <section className={cx("code")} aria-label="Code">
      <div className={cx("pane-head")}>
        <b>{file.name}</b>
        <span className="quiet">{lines.length} lines</span>
        {counts.size > 0 && <Legend />}
      </div>
      <div
        ref={body}
        className={cx("lines")}
        role="listbox"
        aria-label={`Lines of ${file.name}`}
        aria-activedescendant={line === null ? undefined : `line-${line}`}
        tabIndex={0}
        onKeyDown={onKeyDown}
      >
        {lines.map((tokens, i) => {
          const n = i + 1;
          const at = places.get(n);
          const count = counts.get(n);
          return (
            <div
              key={n}
              id={`line-${n}`}
              role="option"
              aria-selected={n === line}
              aria-current={n === line}
              className={cx("line", reachClass(count), { same: place !== undefined && place !== "" && at?.place === place })}
              title={count ? told(count) : undefined}
              onClick={() => lookAt(n)}
            >
              <span className={cx("mark")} />
              <span className={cx("gutter")}>{n}</span>
              <span className={cx("text")}>
                {tokens.map((t, k) => (
                  <span key={k} className={t.kind === "plain" ? undefined : cx(t.kind)}>
                    {t.text}
                  </span>
                ))}
              </span>
            </div>
          );
        })}
      </div>
    </section>
  );
}

const reachClass = (count: LineCount | undefined) =>
  !count ? "" : Number(count.count) === 0 ? "never" : Number(count.reached) < Number(count.ways) ? "partly" : "reached";

const told = (count: LineCount) =>
  Number(count.count) === 0
    ? "never reached"
    : `ran ${Number(count.count).toLocaleString("en")} times` +
      (Number(count.ways) > 0 ? `; ${count.reached} of ${count.ways} outcomes of its conditions` : "");

const Legend = () => (
  <span className={cx("legend")}>
    <span className={cx("reached")}>reached</span>
    <span className={cx("partly")}>in part</span>
    <span className={cx("never")}>never</span>
  </span>
);
