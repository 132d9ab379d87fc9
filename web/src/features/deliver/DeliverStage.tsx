import classNames from "classnames/bind";
import { useEffect } from "react";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import { readDeliveries, shownDelivery, useDeliveries } from "../../state/deliveries";
import { Message } from "../../ui/Message";
import { StagePane } from "../../ui/StagePane";
import { AddDelivery } from "./AddDelivery";
import { CodeView } from "./CodeView";
import { DeliveryList } from "./DeliveryList";
import { OriginPicture } from "./OriginPicture";
import styles from "./deliver.module.css";

const cx = classNames.bind(styles);

/** What is handed on: its code, line by line, beside the diagram that it comes from. */
export default function DeliverStage() {
  const { id, revision, deliveries } = useBench(useShallow((s) => ({ id: s.id, revision: s.revision, deliveries: s.model.deliveries })));
  const { chosen, written, problem } = useDeliveries(useShallow((s) => ({ chosen: s.chosen, written: s.written, problem: s.problem })));
  useEffect(() => void readDeliveries(), [id, revision]);
  const shown = shownDelivery(deliveries, chosen);
  const node = shown === null ? undefined : deliveries[shown];
  return (
    <StagePane label="Deliver" className={cx("deliver")}>
      <DeliveryList shown={shown} />
      {!shown || !node ? (
        <div className={cx("nothing")}>
          <h2>Nothing is handed on yet</h2>
          <p>
            A controller becomes C code that can be read line by line beside its diagram, and that is proved to compute what the model does.
          </p>
          <AddDelivery />
        </div>
      ) : written?.of === shown ? (
        <>
          <CodeView key={shown} id={shown} code={written.code} />
          <OriginPicture key={node.part} node={node} code={written.code} />
        </>
      ) : (
        <div className={cx("nothing")}>
          {problem?.of === shown ? (
            <Message bad live>
              {problem.message} {problem.advice}
            </Message>
          ) : (
            <p>Writing …</p>
          )}
        </div>
      )}
    </StagePane>
  );
}
