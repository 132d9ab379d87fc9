import classNames from "classnames/bind";
import { Button, Upload } from "antd";
import type { Schemas } from "../../api/client";
import { edit, here } from "../../state/model";
import { notify, useBench } from "../../state/bench";
import { arrayOf, columnsOf } from "./columns";
import { PointCurve } from "./PointCurve";
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
      {curve && <PointCurve x={curve.x.map(Number)} y={curve.y.map(Number)} />}
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
