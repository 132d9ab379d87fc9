import classNames from "classnames/bind";
import { autocompletion, completeAnyWord, completionKeymap, type CompletionContext } from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap, indentWithTab } from "@codemirror/commands";
import { bracketMatching, indentUnit } from "@codemirror/language";
import { lintGutter, setDiagnostics, type Diagnostic } from "@codemirror/lint";
import { EditorState } from "@codemirror/state";
import { drawSelection, EditorView, highlightActiveLine, keymap, lineNumbers } from "@codemirror/view";
import { useEffect, useImperativeHandle, useRef, type Ref } from "react";
import type { Schemas } from "../../api/client";
import type { Covered } from "../../state/coverage";
import { coverageGutter, setCoverage } from "./coverageGutter";
import { equationLanguage, inkHighlight } from "./language";
import styles from "./parts.module.css";

const cx = classNames.bind(styles);

export interface TextEditorHandle {
  goTo: (line: number, column: number) => void;
}

interface Props {
  text: string;
  readOnly: boolean;
  words: Schemas["LanguageWords"];
  findings: Schemas["TextFinding"][];
  /** What the cases came by, by lines. */
  coverage: ReadonlyMap<number, Covered>;
  onChange: (text: string) => void;
  onApply: () => void;
  ref?: Ref<TextEditorHandle>;
}

/** The text of a part, with colours, completion and findings at their places. */
export function TextEditor({ text, readOnly, words, findings, coverage, onChange, onApply, ref }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const calls = useRef({ onChange, onApply });
  useEffect(() => {
    calls.current = { onChange, onApply };
  });

  useEffect(() => {
    if (!host.current) return;
    const options = [
      ...words.reserved.map((label) => ({ label, type: "keyword" })),
      ...words.functions.map((label) => ({ label, type: "function" })),
      ...words.types.map((label) => ({ label, type: "type" })),
    ];
    const ofLanguage = (context: CompletionContext) => {
      const word = context.matchBefore(/\w+/);
      return word || context.explicit ? { from: word ? word.from : context.pos, options, validFor: /^\w*$/ } : null;
    };
    const editor = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc: text,
        extensions: [
          lineNumbers(),
          history(),
          drawSelection(),
          highlightActiveLine(),
          bracketMatching(),
          indentUnit.of("  "),
          EditorState.readOnly.of(readOnly),
          equationLanguage(words),
          inkHighlight,
          lintGutter(),
          coverageGutter,
          autocompletion({ override: [ofLanguage, completeAnyWord] }),
          keymap.of([
            {
              key: "Mod-Enter",
              run: () => {
                calls.current.onApply();
                return true;
              },
            },
            ...completionKeymap,
            ...defaultKeymap,
            ...historyKeymap,
            indentWithTab,
          ]),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ "aria-label": readOnly ? "Text of the part, read only" : "Text of the part" }),
          EditorView.updateListener.of((u) => {
            if (u.docChanged) calls.current.onChange(u.state.doc.toString());
          }),
        ],
      }),
    });
    // A text longer than its frame is scrolled by keys too.
    editor.scrollDOM.tabIndex = 0;
    view.current = editor;
    return () => editor.destroy();
    // The editor keeps its own text; another part makes another editor (by key).
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [words, readOnly]);

  useEffect(() => {
    const editor = view.current;
    if (!editor) return;
    const doc = editor.state.doc;
    const diagnostics: Diagnostic[] = findings.map((f) => {
      const line = doc.line(Math.min(f.line, doc.lines));
      const from = Math.min(line.from + f.column - 1, line.to);
      const end = /^\w+/.exec(doc.sliceString(from, line.to))?.[0].length ?? 1;
      return {
        from,
        to: Math.min(from + end, line.to),
        severity: f.severity === "error" ? "error" : f.severity === "warning" ? "warning" : "info",
        message: `${f.message} ${f.suggestion ?? ""}`,
      };
    });
    editor.dispatch(setDiagnostics(editor.state, diagnostics));
  }, [findings]);

  useEffect(() => view.current?.dispatch({ effects: setCoverage.of(coverage) }), [coverage, words, readOnly]);

  useImperativeHandle(ref, () => ({
    goTo: (line, column) => {
      const editor = view.current;
      if (!editor) return;
      const place = editor.state.doc.line(Math.min(line, editor.state.doc.lines));
      editor.dispatch({ selection: { anchor: Math.min(place.from + column - 1, place.to) }, scrollIntoView: true });
      editor.focus();
    },
  }));

  return <div className={cx("source")} ref={host} />;
}
