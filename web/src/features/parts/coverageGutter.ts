import { RangeSet, StateEffect, StateField, type Extension } from "@codemirror/state";
import { gutter, GutterMarker } from "@codemirror/view";
import { coveredWords, type Covered } from "../../state/coverage";

/** What the cases came by in one line: all of it, some, or nothing. */
class CoveredMark extends GutterMarker {
  constructor(readonly found: Covered) {
    super();
  }

  override eq(other: CoveredMark): boolean {
    return coveredWords(this.found) === coveredWords(other.found);
  }

  override toDOM(): Node {
    const mark = document.createElement("span");
    const { covered, total } = this.found;
    mark.className = `covered-line ${covered === total ? "all" : covered > 0 ? "some" : "none"}`;
    mark.textContent = `${covered}/${total}`;
    mark.title = coveredWords(this.found);
    mark.setAttribute("aria-label", mark.title);
    return mark;
  }
}

/** Another coverage, by lines from 1 on. */
export const setCoverage = StateEffect.define<ReadonlyMap<number, Covered>>();

const marks = StateField.define<RangeSet<GutterMarker>>({
  create: () => RangeSet.empty,
  update: (before, transaction) => {
    for (const effect of transaction.effects)
      if (effect.is(setCoverage)) {
        const { doc } = transaction.state;
        return RangeSet.of(
          [...effect.value].filter(([line]) => line <= doc.lines).map(([line, found]) => new CoveredMark(found).range(doc.line(line).from)),
          true,
        );
      }
    // What has been edited since goes along with its line.
    return before.map(transaction.changes);
  },
});

/** Beside each line that decides or does something how much of it the cases came by. */
export const coverageGutter: Extension = [marks, gutter({ class: "cm-covered", markers: (view) => view.state.field(marks) })];
