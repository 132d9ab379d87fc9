import { Alert, Button } from "antd";
import { useShallow } from "zustand/react/shallow";
import { select, setStage, useBench } from "../state/bench";

const dismiss = { onClose: () => useBench.setState({ notice: null }) };

/** What the user is told above the diagram: the last notice, and why the run stopped. */
export function Notices() {
  const { notice, failure } = useBench(useShallow((s) => ({ notice: s.notice, failure: s.run?.failure })));
  const culprit = useBench((s) => failure && Object.keys(s.diagram.parts).find((id) => s.diagram.parts[id]?.name === failure.part));
  return (
    <>
      {notice && (
        <Alert className="notice" type={notice.kind === "error" ? "error" : "info"} title={notice.text} closable={dismiss} role="alert" />
      )}
      {failure && failure.code !== "canceled" && (
        <Alert
          className="notice"
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
