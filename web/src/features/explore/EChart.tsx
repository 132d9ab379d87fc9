import classNames from "classnames/bind";
import type { ECharts, EChartsCoreOption } from "echarts/core";
import { useEffect, useImperativeHandle, useRef, useState, type Ref } from "react";
import styles from "./explore.module.css";

const cx = classNames.bind(styles);

/** What can be asked of a drawn chart. */
export interface Drawn {
  save: (form: "svg" | "png", name: string) => void;
}

interface Props {
  label: string;
  options: EChartsCoreOption;
  /** A row was pressed in it. */
  onRow: (row: number) => void;
  drawn: Ref<Drawn>;
}

/** A chart of the chart library, which is loaded when the first one is shown. */
export function EChart({ label, options, onRow, drawn }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const chart = useRef<ECharts | null>(null);
  const latest = useRef({ options, onRow });
  latest.current = { options, onRow };
  const [ready, setReady] = useState(false);
  useEffect(() => {
    let wanted = true;
    let watch: ResizeObserver | null = null;
    void import("./charting").then(({ core }) => {
      if (!wanted || !host.current) return;
      const made = core.init(host.current, null, { renderer: "canvas" });
      chart.current = made;
      made.on("click", (e) => {
        const row = Array.isArray(e.data) ? Number(e.data[2]) : NaN;
        if (e.seriesType === "scatter" && Number.isInteger(row)) latest.current.onRow(row);
      });
      watch = new ResizeObserver(() => made.resize());
      watch.observe(host.current);
      setReady(true);
    });
    return () => {
      wanted = false;
      watch?.disconnect();
      chart.current?.dispose();
      chart.current = null;
    };
  }, []);
  useEffect(() => {
    if (ready) chart.current?.setOption(options, { notMerge: true });
  }, [options, ready]);
  useImperativeHandle(drawn, () => ({
    save: (form, name) => void picture(latest.current.options, host.current, form, name),
  }));
  return <div ref={host} className={cx("echart")} role="img" aria-label={label} data-ready={ready || undefined} />;
}

/** Draws the chart once more as a file. */
async function picture(options: EChartsCoreOption, host: HTMLElement | null, form: "svg" | "png", name: string): Promise<void> {
  const { core } = await import("./charting");
  const [width, height] = [host?.clientWidth ?? 400, host?.clientHeight ?? 300];
  const element = document.createElement("div");
  Object.assign(element.style, { width: `${width}px`, height: `${height}px`, position: "fixed", left: "-9999px" });
  document.body.append(element);
  const made = core.init(element, null, { renderer: form === "svg" ? "svg" : "canvas", width, height, devicePixelRatio: 3 });
  made.setOption({ ...options, animation: false });
  const link = document.createElement("a");
  link.href = made.getDataURL({ type: form, pixelRatio: 3, backgroundColor: "#ffffff" });
  link.download = `${name}.${form}`;
  link.click();
  made.dispose();
  element.remove();
}
