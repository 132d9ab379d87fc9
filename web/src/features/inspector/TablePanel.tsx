import classNames from "classnames/bind";
import { Button, Upload } from "antd";
import type { Schemas } from "../../api/client";
import { format } from "../../ui/format";
import { edit, here } from "../../state/model";
import { notify, useBench } from "../../state/bench";
import { arrayOf, columnsOf } from "./columns";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

/** The curve that two array parameters are, and the way to fill both from a file. */
export function TablePanel({
  part,
  names,
  curve,
}: {
  part: string;
  names: readonly string[];
  curve: Schemas["CurveView"] | null | undefined;
}) {
  const has = useBench((s) => s.diagram.parts[part]);
  const fill = (text: string) => {
    const [x, y] = columnsOf(text);
    if (!has || !x || !y || x.length < 2) {
      notify("The file needs two columns of numbers with at least two rows.");
      return;
    }
    edit(
      "Fill the table",
      [x, y].map((column, i) => ({
        op: "add" as const,
        path: here("parts", part, "parameters", names[i] as string),
        value: arrayOf(column),
      })),
    );
  };
  return (
    <div className={cx("table")}>
      {curve && <Curve x={curve.x.map(Number)} y={curve.y.map(Number)} />}
      <Upload
        accept=".csv,.txt,.tsv"
        showUploadList={false}
        beforeUpload={(file) => {
          void file.text().then(fill);
          return false;
        }}
      >
        <Button size="small">Fill from a CSV file</Button>
      </Upload>
    </div>
  );
}

const [WIDTH, HEIGHT, EDGE] = [236, 110, 8];

function Curve({ x, y }: { x: number[]; y: number[] }) {
  const [x0, x1, y0, y1] = [Math.min(...x), Math.max(...x), Math.min(...y), Math.max(...y)];
  const at = (i: number) => {
    const u = EDGE + (((x[i] as number) - x0) / (x1 - x0 || 1)) * (WIDTH - 2 * EDGE);
    const v = HEIGHT - EDGE - (((y[i] as number) - y0) / (y1 - y0 || 1)) * (HEIGHT - 2 * EDGE);
    return [u, v] as const;
  };
  const points = x.map((_, i) => at(i));
  return (
    <figure>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width={WIDTH} height={HEIGHT} role="img" aria-label={`Curve of ${x.length} points`}>
        <rect x="0.5" y="0.5" width={WIDTH - 1} height={HEIGHT - 1} fill="var(--paper)" stroke="var(--line)" rx="4" />
        <polyline points={points.map((p) => p.join(",")).join(" ")} fill="none" stroke="#0072b2" strokeWidth="1.4" />
        {points.length < 80 && points.map(([u, v], i) => <circle key={i} cx={u} cy={v} r="2" fill="#0072b2" />)}
      </svg>
      <figcaption className="quiet mono">
        {format(x0)} … {format(x1)} → {format(y0)} … {format(y1)}
      </figcaption>
    </figure>
  );
}
