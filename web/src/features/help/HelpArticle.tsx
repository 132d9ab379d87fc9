import classNames from "classnames/bind";
import { Button } from "antd";
import { useMemo } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { withMathematics } from "../../ui/helpPages";
import { goToModel } from "../../ui/routes";
import styles from "./help.module.css";

const cx = classNames.bind(styles);

/** A topic: what the server has rendered from its own documents, without scripts. */
export function HelpArticle({ topic }: { topic: Schemas["HelpTopic"] }) {
  const html = useMemo(() => withMathematics(topic.html), [topic]);
  const open = () =>
    void ask(api.POST("/api/models", { body: { name: null, example: null, document: null, text: null, part: topic.part ?? null } })).then(
      ({ id }) => goToModel(id),
    );
  return (
    <article className={cx("article")}>
      <p className="quiet">{topic.group}</p>
      <h2>{topic.title}</h2>
      {topic.part && (
        <Button size="small" onClick={open}>
          Open an example with it
        </Button>
      )}
      <div dangerouslySetInnerHTML={{ __html: html }} />
    </article>
  );
}
