import classNames from "classnames/bind";
import { Button } from "antd";
import { useCallback, useEffect, useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { useShallow } from "zustand/react/shallow";
import { useBench } from "../../state/bench";
import styles from "./lessons.module.css";

const cx = classNames.bind(styles);

/** An edit is often followed by others; what is done is looked at when it is quiet. */
const QUIET = 400;

/** The lesson that a model is made in: the step that is to do now, and those behind and ahead. Nothing for other models. */
export function LessonCard() {
  const { id, revision, run } = useBench(useShallow((s) => ({ id: s.id, revision: s.revision, run: s.run?.id })));
  const [lesson, setLesson] = useState<Schemas["LessonView"] | null>(null);
  // Most models are made in no lesson, and will not be.
  const [isNone, setNone] = useState(false);
  const [all, setAll] = useState(false);
  const load = useCallback(
    () =>
      ask(api.GET("/api/models/{id}/lesson", { params: { path: { id } } })).then(
        (found) => {
          setLesson(found.lesson ?? null);
          setNone(!found.lesson);
        },
        // Without the lesson the bench is there all the same.
        () => undefined,
      ),
    [id],
  );
  useEffect(() => {
    if (isNone) return;
    const timer = setTimeout(() => void load(), QUIET);
    return () => clearTimeout(timer);
  }, [load, revision, run, isNone]);
  if (!lesson) return null;
  const now = lesson.steps.find((s) => s.key === lesson.now);
  const at = now ? lesson.steps.indexOf(now) + 1 : lesson.steps.length;
  const skip = (step: string, skips: boolean) =>
    void ask(api.PUT("/api/models/{id}/lesson", { params: { path: { id } }, body: { step, skips } })).then(load);
  const end = () => void ask(api.DELETE("/api/models/{id}/lesson", { params: { path: { id } } })).then(load);
  return (
    <section className={cx("card")} aria-label={lesson.title}>
      <header>
        <span className="quiet">{lesson.title}</span>
        <Button type="text" size="small" aria-expanded={all} onClick={() => setAll(!all)}>
          {at} of {lesson.steps.length}
        </Button>
      </header>
      {all && (
        <ol>
          {lesson.steps.map((s) => (
            <li key={s.key} className={cx({ done: s.isDone, now: s.key === lesson.now })}>
              {s.title}
              {s.isSkipped && !s.isDone && (
                <Button type="link" size="small" onClick={() => skip(s.key, false)}>
                  passed over: do it after all
                </Button>
              )}
            </li>
          ))}
        </ol>
      )}
      <div role="status">
        {now ? (
          <>
            <h2>{now.title}</h2>
            <p>{now.text}</p>
          </>
        ) : (
          <>
            <h2>That was all of it</h2>
            <p>The model is yours: go on with it, or take an example from the start page.</p>
          </>
        )}
      </div>
      <footer>
        {now && (
          <Button size="small" onClick={() => skip(now.key, true)}>
            Pass this over
          </Button>
        )}
        <Button size="small" type={now ? "text" : "primary"} onClick={end}>
          End the lesson
        </Button>
      </footer>
    </section>
  );
}
