import classNames from "classnames/bind";
import { Button, Select } from "antd";
import { useMemo, useState } from "react";
import { api, ask } from "../../api/client";
import { notifyError, useBench } from "../../state/bench";
import { TextField } from "../../ui/TextField";
import styles from "./observe.module.css";

const cx = classNames.bind(styles);

/** Makes a course as one of the catalog's sources gives it. */
export function CourseMaker({
  source,
  onSource,
  end,
  take,
}: {
  source: string;
  onSource: (s: string) => void;
  end: number;
  take: (times: number[], values: number[]) => void;
}) {
  const catalog = useBench((s) => s.catalog);
  const sources = useMemo(() => [...catalog.values()].filter((p) => p.group === "Sources" && p.ports.length === 1), [catalog]);
  const part = catalog.get(source);
  const [values, setValues] = useState<Record<string, string>>({});
  const make = async () => {
    try {
      const course = await ask(api.POST("/api/courses", { body: { part: source, parameters: values, end } }));
      take(course.times.map(Number), course.values.map(Number));
    } catch (e) {
      notifyError((e as Error).message);
    }
  };
  return (
    <div>
      <Select
        size="small"
        aria-label="Kind of course"
        className={cx("wide-select")}
        value={source}
        onChange={(s: string) => {
          onSource(s);
          setValues({});
        }}
        options={sources.map((p) => ({ value: p.name, label: p.title }))}
      />
      {(part?.parameters ?? []).map((p) => (
        <div key={source + p.name} className={cx("setting")}>
          <span>{p.description ?? p.name}</span>
          <TextField
            label={p.description ?? p.name}
            value={values[p.name] ?? p.default ?? ""}
            commit={(text) => setValues({ ...values, [p.name]: text })}
          />
        </div>
      ))}
      <Button size="small" type="primary" onClick={() => void make()}>
        Make the course
      </Button>
    </div>
  );
}
