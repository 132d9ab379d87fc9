import classNames from "classnames/bind";
import { Alert, Button } from "antd";
import { useShallow } from "zustand/react/shallow";
import { select, setStage, useBench } from "../state/bench";
import styles from "./app.module.css";

const cx = classNames.bind(styles);

const dismiss = { onClose: () => useBench.setState({ notice: null }) };

/** What the user is told above the diagram: the last notice, and why the run stopped. */
export function Notices() {
  const { notice, failure } = useBench(useShallow((s) => ({ notice: s.notice, failure: s.run?.failure })));
  const culprit = useBench((s) => failure && Object.keys(s.diagram.parts).find((id) => s.diagram.parts[id]?.name === failure.part));
  return (
    <>
      {notice && (
        <Alert
          className={cx("notice")}
          type={notice.kind === "error" ? "error" : "info"}
          title={notice.text}
          closable={dismiss}
          role="alert"
          action={
            notice.offer && (
              <Button
                size="small"
                onClick={() => {
                  dismiss.onClose();
                  notice.offer?.run();
                }}
              >
                {notice.offer.label}
              </Button>
            )
          }
        />
      )}
      {failure && failure.code !== "canceled" && (
        <Alert
          className={cx("notice")}
          type="error"
          role="alert"
          title={`${failure.message} ${failure.advice}`}
          action={
            culprit && (
              <Button
                size="small"
                onClick={() => {
                  setStage("build");
                  select([culprit]);
                }}
              >
                Show the part
              </Button>
            )
          }
        />
      )}
    </>
  );
}
