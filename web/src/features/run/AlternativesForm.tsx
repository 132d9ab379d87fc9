import classNames from "classnames/bind";
import { Button, Checkbox } from "antd";
import { useEffect, useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { startRunSet } from "../../state/runSets";
import styles from "./run.module.css";

const cx = classNames.bind(styles);

type Choice = Schemas["ModelChoice"];

/** More combinations are not run in one go. */
const MOST = 64;

/** Which realisations and options shall be run side by side. */
export function AlternativesForm({ onStarted }: { onStarted: () => void }) {
  const id = useBench((s) => s.id);
  const [choices, setChoices] = useState<readonly Choice[] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [chosen, setChosen] = useState<Record<string, string[]>>({});
  useEffect(() => {
    let wanted = true;
    ask(api.GET("/api/models/{id}/choices", { params: { path: { id } } })).then(
      (found) => {
        if (!wanted) return;
        setChoices(found);
        setChosen(Object.fromEntries(found.map((c) => [c.path, c.values.map((v) => v.name)])));
      },
      (e: Error) => wanted && setProblem(e.message),
    );
    return () => {
      wanted = false;
    };
  }, [id]);
  if (problem) return <p role="alert">{problem}</p>;
  if (!choices) return <p className="quiet">Looking for slots and options …</p>;
  if (choices.length === 0)
    return (
      <p className={cx("nothing")}>
        Nothing can be chosen in this model. Make a slot of a part, or give a part a condition that a true-or-false parameter decides.
      </p>
    );
  const count = choices.reduce((n, c) => n * (chosen[c.path]?.length ?? 0), 1);
  const run = async () => {
    const wanted = choices.map((c) => ({ path: c.path, names: chosen[c.path] ?? [] }));
    if (await startRunSet(wanted)) onStarted();
  };
  return (
    <div className={cx("choices")} role="dialog" aria-label="Run alternatives">
      {choices.map((c) => (
        <fieldset key={c.path}>
          <legend>{c.name}</legend>
          <Checkbox.Group
            value={chosen[c.path] ?? []}
            options={c.values.map((v) => ({ value: v.name, label: v.name === c.present ? `${v.name} (in now)` : v.name }))}
            onChange={(names) => setChosen({ ...chosen, [c.path]: names })}
          />
        </fieldset>
      ))}
      <Button type="primary" size="small" disabled={count === 0 || count > MOST} onClick={() => void run()}>
        {count > MOST
          ? `${count} combinations, at most ${MOST}`
          : count === 0
            ? "Choose one of each"
            : `Run ${count === 1 ? "1 combination" : `all ${count} combinations`}`}
      </Button>
    </div>
  );
}
