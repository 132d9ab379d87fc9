import classNames from "classnames/bind";
import { Button } from "antd";
import { useEffect, useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { goToModel } from "../../ui/routes";
import { Message } from "../../ui/Message";
import styles from "./lessons.module.css";

const cx = classNames.bind(styles);

type Lesson = Schemas["LessonView"];

const done = (lesson: Lesson) => lesson.steps.filter((s) => s.isDone || s.isSkipped).length;

/** The lessons: the one that is under way with its steps, the others in a line. */
export function LessonList() {
  const [lessons, setLessons] = useState<Lesson[]>([]);
  const [problem, setProblem] = useState("");
  useEffect(() => {
    let wanted = true;
    ask(api.GET("/api/lessons")).then(
      (found) => wanted && setLessons(found),
      () => undefined,
    );
    return () => {
      wanted = false;
    };
  }, []);
  const begin = (lesson: Lesson) =>
    lesson.model
      ? goToModel(lesson.model)
      : void ask(api.POST("/api/lessons/{lesson}", { params: { path: { lesson: lesson.key } } })).then(
          ({ id }) => goToModel(id),
          (e: Error) => setProblem(e.message),
        );
  const shown = lessons.find((l) => l.model && l.now) ?? lessons.find((l) => l.now) ?? lessons[0];
  if (!shown) return null;
  const left = shown.steps.filter((s) => !s.isDone && !s.isSkipped).reduce((sum, s) => sum + s.minutes, 0);
  const next = shown.steps.find((s) => s.key === shown.now);
  return (
    <>
      <section className={cx("list")} aria-label={shown.title}>
        <h2>{shown.title}</h2>
        <p className="quiet">
          {shown.about} {left > 0 && `About ${left} minutes${shown.model ? " left" : ""}.`}
        </p>
        <ol className={cx("line")}>
          {shown.steps.map((s, i) => (
            <li key={s.key} className={cx({ done: s.isDone || s.isSkipped, now: s.key === shown.now })}>
              <i aria-hidden>{s.key === shown.now ? i + 1 : ""}</i>
              <span>{s.title}</span>
              <em>{s.key === shown.now && shown.model ? "now" : `${s.minutes} min`}</em>
            </li>
          ))}
        </ol>
        {problem && (
          <Message bad live>
            {problem}
          </Message>
        )}
        <Button type="primary" block onClick={() => begin(shown)}>
          {shown.model ? (next ? `Go on: ${next.title.toLowerCase()}` : "Open it again") : "Begin"}
        </Button>
      </section>
      <ul className={cx("others")}>
        {lessons
          .filter((l) => l !== shown)
          .map((l) => (
            <li key={l.key}>
              <Button type="link" size="small" onClick={() => begin(l)}>
                {l.title}
              </Button>
              <span className="quiet">
                {l.model ? `${done(l)} of ${l.steps.length} steps` : `${l.steps.reduce((sum, s) => sum + s.minutes, 0)} min`}
              </span>
            </li>
          ))}
      </ul>
    </>
  );
}
