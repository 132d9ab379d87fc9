import classNames from "classnames/bind";
import { Button, Upload } from "antd";
import type { Schemas } from "../../api/client";
import { edit, here } from "../../state/model";
import { notify, useBench } from "../../state/bench";
import { arrayOf, columnsOf } from "./columns";
import { PointCurve } from "./PointCurve";
import styles from "./inspector.module.css";

const cx = classNames.bind(styles);

const words = ["no", "one", "two", "three", "four", "five", "six"];

/** The curve that two array parameters are, and the way to fill these or more columns from a file. */
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
    const columns = columnsOf(text).slice(0, names.length);
    if (!has || columns.length < names.length || (columns[0]?.length ?? 0) < 2) {
      notify(`The file needs ${words[names.length] ?? names.length} columns of numbers with at least two rows.`);
      return;
    }
    edit(
      "Fill the table",
      columns.map((column, i) => ({
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
