import { Drawer } from "antd";
import { useEffect, useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { topicAddress } from "../../ui/helpPages";
import { Message } from "../../ui/Message";
import { HelpArticle } from "./HelpArticle";

interface Props {
  /** The topic that is asked for. */
  id: string;
  onClose: () => void;
}

/** Help beside the work, for what is selected. */
export default function HelpDrawer({ id, onClose }: Props) {
  const [topic, setTopic] = useState<Schemas["HelpTopic"] | null>(null);
  const [problem, setProblem] = useState("");
  useEffect(() => {
    let wanted = true;
    ask(api.GET("/api/help/topic", { params: { query: { id } } })).then(
      (found) => wanted && setTopic(found),
      (e: Error) => wanted && setProblem(e.message),
    );
    return () => {
      wanted = false;
    };
  }, [id]);
  return (
    <Drawer
      open
      mask={false}
      size={460}
      title="Help"
      extra={
        <a href={topicAddress(id)} target="_blank" rel="noreferrer">
          All of the help
        </a>
      }
      onClose={onClose}
    >
      {problem && (
        <Message bad live>
          {problem}
        </Message>
      )}
      {topic && <HelpArticle topic={topic} />}
    </Drawer>
  );
}
