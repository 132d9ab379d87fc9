import classNames from "classnames/bind";
import { Button, Spin } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, ask, type ApiError, type Schemas } from "../../api/client";
import { changeOwnPart, duplicatePart, isUntouched, isUsed, removeOwnPart } from "../../state/ownParts";
import { coveredLines, readCoverage, useCoverage, type Covered } from "../../state/coverage";
import { openPart, useBench } from "../../state/bench";
import { definitionOf } from "../../state/document";
import { reloadModel } from "../../state/model";
import { Message } from "../../ui/Message";
import { PartPreview } from "./PartPreview";
import { TextEditor, type TextEditorHandle } from "./TextEditor";
import styles from "./parts.module.css";

const cx = classNames.bind(styles);

const homes: Record<string, string> = {
  catalog: "Catalog, read only",
  model: "In this model",
  package: "In your package",
  chart: "What the state chart comes to, read only",
};

/** What the cases of the model came by in the text of a part; nothing where it has no cases. */
function useLineCoverage(name: string): ReadonlyMap<number, Covered> {
  const { hasCases, revision } = useBench(useShallow((s) => ({ hasCases: Object.keys(s.model.cases).length > 0, revision: s.revision })));
  const view = useCoverage((s) => s.view);
  useEffect(() => {
    if (hasCases) void readCoverage();
  }, [hasCases, revision]);
  return useMemo(() => (view && hasCases ? coveredLines(view, name) : new Map<number, Covered>()), [view, hasCases, name]);
}

/** Reads and changes the text of a part: text and findings on the left, what it makes on the right. */
export default function PartEditor({ name }: { name: string }) {
  const isComputed = useBench((s) => {
    const own = s.model.definitions[definitionOf(name) ?? ""];
    return own?.kind === "text" && Boolean(own.unit);
  });
  const { id, partOf, used } = useBench(
    useShallow((s) => ({
      id: s.id,
      partOf: s.openPart?.placed ?? null,
      used: isUsed(s.model, name),
    })),
  );
  const [words, setWords] = useState<Schemas["LanguageWords"] | null>(null);
  const [part, setPart] = useState<Schemas["PartText"] | null>(null);
  const [text, setText] = useState("");
  const [review, setReview] = useState<Schemas["PartReviewView"] | null>(null);
  const [problem, setProblem] = useState("");
  const [leaving, setLeaving] = useState(false);
  const editor = useRef<TextEditorHandle>(null);
  const coverage = useLineCoverage(name);

  useEffect(() => {
    let current = true;
    Promise.all([
      ask(api.GET("/api/language")),
      ask(api.GET("/api/models/{id}/parts/{type}", { params: { path: { id, type: name } } })),
    ]).then(
      ([w, p]) => {
        if (!current) return;
        setWords(w);
        setPart(p);
        setText(p.text);
        setReview(p.review);
      },
      (e: ApiError) => current && setProblem(e.message),
    );
    return () => {
      current = false;
    };
  }, [id, name]);

  // What is typed is checked as soon as the server has answered the text before.
  const [checked, setChecked] = useState<{ text: string } | null>(null);
  const busy = useRef(false);
  useEffect(() => {
    if (!part || busy.current || text === (checked?.text ?? part.text)) return;
    busy.current = true;
    ask(api.POST("/api/models/{id}/parts/check", { params: { path: { id } }, body: { text } }))
      .then(setReview, (e: ApiError) => setProblem(e.message))
      .finally(() => {
        busy.current = false;
        // Another object each time: also the same text again, as after all of it was replaced, looks for what was typed meanwhile.
        setChecked({ text });
      });
  }, [text, checked, part, id]);

  if (problem && !part)
    return (
      <section className={cx("editor")} aria-label="Text of a part">
        <Message bad>{problem}</Message>
        <Button onClick={() => openPart(null)}>Close</Button>
      </section>
    );
  if (!part || !words || !review) return <Spin className={cx("wait")} />;

  const readOnly = part.home === "catalog" || part.home === "form";
  const changed = text !== part.text;
  const errors = review.findings.filter((f) => f.severity === "error").length;
  const balanced = review.equations === review.unknowns;

  // A text that is not applied is not dropped by one key.
  const close = () => {
    if (changed && !readOnly && !leaving) {
      setLeaving(true);
      setProblem("The text has changes that are not applied. Apply them, or close once more to drop them.");
    } else {
      // A new part that was left as it came was not wanted.
      if (part.home === "model" && !used && isUntouched(part.name, part.text)) removeOwnPart(name, `Drop part ${part.name}`);
      openPart(null);
    }
  };

  const apply = async () => {
    if (readOnly || !changed) return;
    setProblem("");
    setLeaving(false);
    if (part.home === "model") {
      changeOwnPart(name, part.name, review.name ?? part.name, text);
      setPart({ ...part, name: review.name ?? part.name, text });
      return;
    }
    try {
      setReview(await ask(api.PUT("/api/package/{name}", { params: { path: { name: part.name } }, body: { text } })));
      setPart({ ...part, text });
      await reloadModel();
    } catch (e) {
      setProblem(`${(e as ApiError).message} ${(e as ApiError).advice ?? ""}`);
    }
  };

  const keep = async () => {
    try {
      await ask(api.PUT("/api/package/{name}", { params: { path: { name: part.name } }, body: { text } }));
      removeOwnPart(name, `Move part ${part.name}`, part.name);
      openPart(part.name, partOf);
    } catch (e) {
      setProblem(`${(e as ApiError).message} ${(e as ApiError).advice ?? ""}`);
    }
  };

  return (
    <section
      className={cx("editor")}
      aria-label={`Text of ${part.name}`}
      data-ui
      onKeyDown={(e) => e.key === "Escape" && !e.defaultPrevented && close()}
    >
      <header>
        <h2>{part.name}</h2>
        <span className="quiet">{homes[part.home]}</span>
        <span className={cx("count", { bad: !balanced })} aria-label="Balance">
          {String(review.equations)} equations, {String(review.unknowns)} unknowns
          {balanced ? "" : review.equations > review.unknowns ? ": too many equations" : ": too few equations"}
        </span>
        <span className={cx("room")} />
        {part.home === "form" ? null : readOnly ? (
          <Button type="primary" size="small" onClick={() => openPart(duplicatePart(part.name, part.text, partOf), partOf)}>
            Duplicate into the model
          </Button>
        ) : (
          <>
            {part.home === "model" && !used && (
              <Button
                size="small"
                onClick={() => {
                  removeOwnPart(name, `Remove part ${part.name}`);
                  openPart(null);
                }}
              >
                Remove
              </Button>
            )}
            {part.home === "model" && !isComputed && (
              <Button size="small" disabled={errors > 0} onClick={() => void keep()}>
                Move to my package
              </Button>
            )}
            <Button type="primary" size="small" disabled={!changed} onClick={() => void apply()}>
              Apply
            </Button>
          </>
        )}
        <Button size="small" onClick={close}>
          Close
        </Button>
      </header>
      {problem && <Message bad>{problem}</Message>}
      <div className={cx("body")}>
        <div className={cx("text")}>
          <TextEditor
            key={`${part.name} ${part.home}`}
            ref={editor}
            text={part.text}
            readOnly={readOnly}
            words={words}
            findings={review.findings}
            coverage={coverage}
            onChange={setText}
            onApply={() => void apply()}
          />
          <ul className={cx("findings")} aria-label="Findings of the text">
            {review.findings.map((f, i) => (
              <li key={i}>
                <Button type="text" size="small" className={cx(f.severity)} onClick={() => editor.current?.goTo(f.line, f.column)}>
                  <span className="mono">
                    {String(f.line)}:{String(f.column)}
                  </span>{" "}
                  {f.message} <span className="quiet">{f.suggestion}</span>
                </Button>
              </li>
            ))}
            {review.findings.length === 0 && <li className="quiet">No findings.</li>}
          </ul>
        </div>
        <aside className={cx("made")} aria-label="What the text makes" tabIndex={0}>
          <PartPreview review={review} />
        </aside>
      </div>
    </section>
  );
}
