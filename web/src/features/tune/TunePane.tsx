import classNames from "classnames/bind";
import { useShallow } from "zustand/react/shallow";
import { useTune } from "../../state/tune";
import { AskForm } from "./AskForm";
import { CandidateTable } from "./CandidateTable";
import { ElementForm } from "./ElementForm";
import { formName } from "./forms";
import { Wishes } from "./Wishes";
import styles from "./tune.module.css";

const cx = classNames.bind(styles);

/** Beside the map: the designs with their figures, what is wished, and what stops it. */
export default function TunePane() {
  const { loops, part, map } = useTune(useShallow((s) => ({ loops: s.loops, part: s.part, map: s.map })));
  const loop = loops.find((l) => l.part === part);
  const { lowLimit, highLimit, effort } = map?.units ?? {};
  return (
    <aside className={cx("tune-pane")} aria-label="Inspector">
      <h2>{loop?.name ?? "Tune"}</h2>
      {loop && (
        <>
          <p className="quiet">
            {loop.gains ? formName(loop.gains.form) : ""}
            {lowLimit != null && highLimit != null ? `, output between ${lowLimit} and ${highLimit} ${effort ?? ""}` : ""}
          </p>
          <CandidateTable />
          <AskForm />
          <ElementForm />
          <Wishes />
        </>
      )}
    </aside>
  );
}
