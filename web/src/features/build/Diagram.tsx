import classNames from "classnames/bind";
import { useEffect, useLayoutEffect, useMemo, useRef, useState, type RefObject } from "react";
import { useShallow } from "zustand/react/shallow";
import type { PartView } from "../../api/client";
import { ALWAYS_MOUNTED, MOST_MOUNTED } from "../../canvas/culling";
import { snap, wiresBySource } from "../../canvas/geometry";
import { HitIndex, type Visible } from "../../canvas/hitIndex";
import { FarCanvas } from "../../canvas/FarCanvas";
import { Areas, Notes, Overlay, Parts, WireLayer } from "../../canvas/layers";
import { draftPoints, placeOf, type Scene } from "../../canvas/scene";
import { DRAFT, idle, wiresWith, type Tool } from "../../canvas/tools";
import { withPlaces } from "../../canvas/tidy";
import { toDiagram } from "../../canvas/viewport";
import { notify, useBench } from "../../state/bench";
import type { Diagram as DiagramOfLevel } from "../../state/document";
import { openLevel } from "../../state/model";
import type { Drop } from "./CatalogPane";
import { ContextMenu, type MenuRequest } from "./ContextMenu";
import { NameField } from "./NameField";
import { diagramKeys, type KeyActions } from "./diagramKeys";
import { DiagramToolbar } from "./DiagramToolbar";
import { Others } from "./Others";
import { QuickPlace, type PlaceRequest } from "./QuickPlace";
import { CoverageMarks } from "./CoverageMarks";
import { SignalTags } from "./SignalTags";
import { usePartViews, useRoutes } from "./useDiagramView";
import { useFaultySignals } from "./useFaultySignals";
import { useGestures } from "./useGestures";
import { useViewport, type Content } from "../../canvas/useViewport";
import { WireCard } from "./WireCard";
import { WireTo, type WireRequest } from "./WireTo";
import styles from "./build.module.css";

const cx = classNames.bind(styles);

const nothing: Visible = { parts: new Set(), wires: new Set() };

/** The diagram of a level: what is in view is mounted, or painted where that is much. */
export function Diagram({ drop }: { drop: RefObject<Drop> }) {
  const {
    diagram: stored,
    tidied,
    view,
    selection,
  } = useBench(useShallow((s) => ({ diagram: s.diagram, tidied: s.tidied, view: s.view, selection: s.selection })));
  const diagram = useMemo(() => (tidied ? withPlaces(stored, tidied) : stored), [stored, tidied]);
  const views = usePartViews();
  const host = useRef<HTMLDivElement>(null);
  const world = useRef<HTMLDivElement>(null);
  const onShow = useRef(() => {});
  // Half of the stage has a view of its own.
  const place = useBench((s) => `${s.id} ${s.level} ${s.scene ?? ""}`);
  const content = useMemo<Content>(() => contentOf(diagram, views), [diagram, views]);
  const viewing = useViewport(host, world, content, place, onShow);
  const [tool, setTool] = useState<Tool>(idle);
  const [menu, setMenu] = useState<MenuRequest | null>(null);
  const [naming, setNaming] = useState<string | null>(null);
  const [placing, setPlacing] = useState<PlaceRequest | null>(null);

  const [wiring, setWiring] = useState<WireRequest | null>(null);

  const shift = tool.kind === "move" && tool.moved ? tool : null;
  const drawn = tool.kind === "wire" ? tool : null;
  // What is drawn is routed as it will be, with those that make room for it.
  const wires = useMemo(
    () => (drawn?.target ? wiresWith({ diagram, views, routes: new Map() }, drawn) : diagram.wires),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the pointer's place does not matter once a target is found
    [diagram, views, drawn?.target, drawn?.port, drawn?.bends],
  );
  const routes = useRoutes(diagram.parts, wires, views, shift && !shift.copy ? shift : null);
  const settled = useSettled(routes, shift !== null);
  const index = useMemo(() => new HitIndex(diagram.parts, views, settled), [diagram.parts, views, settled]);
  const sources = useMemo(() => wiresBySource(diagram.wires), [diagram.wires]);
  const faults = useFaultySignals();
  const wired = useMemo(() => {
    const result: Record<string, string> = {};
    for (const w of Object.values(diagram.wires))
      for (const end of [w.from, w.to]) result[end.part] = `${result[end.part] ?? ""}|${end.port}`;
    return result;
  }, [diagram.wires]);
  const flags = useMemo(() => {
    const result: Record<string, "error" | "warning"> = {};
    // What is found further in stands on the part that leads there.
    const prefix = view.level ? `${view.level}/` : "";
    for (const f of view.findings) {
      if (!f.part?.startsWith(prefix) || f.severity === "information") continue;
      const part = f.part.slice(prefix.length).split("/")[0] as string;
      if (result[part] !== "error") result[part] = f.severity as "error" | "warning";
    }
    return result;
  }, [view.findings, view.level]);

  const { visible, isFar } = useMemo(() => {
    if (Object.keys(diagram.parts).length <= ALWAYS_MOUNTED) return { visible: null, isFar: false };
    // Before the first layout nobody knows what is in view.
    if (!viewing.frame) return { visible: nothing, isFar: false };
    const inFrame = index.within(viewing.frame);
    return { visible: inFrame, isFar: inFrame.parts.size > MOST_MOUNTED };
  }, [diagram.parts, index, viewing.frame]);

  const scene: Scene = { diagram, views, routes };
  const gestures = useGestures(tool, setTool, {
    host,
    view: viewing,
    scene,
    index,
    isFar,
    selection,
    onBegin: () => {
      setPlacing(null);
      setWiring(null);
    },
    onPlace: setPlacing,
    onMenu: setMenu,
  });

  /** A menu asked for by a key: beside what is selected. */
  const menuAtSelection = (): MenuRequest => {
    const [first] = selection;
    const node = first === undefined ? undefined : diagram.parts[first];
    const v = viewing.viewport.current;
    const at = node ? { x: node.x + (views[first as string]?.width ?? 0), y: node.y } : toDiagram(v, { x: 200, y: 120 });
    return { x: at.x * v.zoom + v.x, y: at.y * v.zoom + v.y, at };
  };

  const openPlacing = (text: string) => {
    const p = gestures.pointerAt.current;
    const v = viewing.viewport.current;
    const box = viewing.size();
    const inside = {
      x: Math.min(Math.max(p.x * v.zoom + v.x, 40), box.width - 320),
      y: Math.min(Math.max(p.y * v.zoom + v.y, 40), box.height - 200),
    };
    const d = toDiagram(v, inside);
    setPlacing({ at: { x: snap(d.x), y: snap(d.y) }, screen: inside, text, from: null });
  };

  const openWiring = () => {
    const [part, ...others] = [...selection].filter((i) => i in diagram.parts);
    if (part === undefined) return notify("Select the part that a wire begins at.");
    const { x, y } = menuAtSelection();
    const box = viewing.size();
    const inside = { x: Math.max(0, Math.min(x, box.width - 320)), y: Math.max(0, Math.min(y, box.height - 320)) };
    setWiring({ screen: inside, part, among: others.length > 0 ? others : Object.keys(diagram.parts) });
  };

  const actions = useRef<KeyActions>(null);
  useLayoutEffect(() => {
    drop.current = (type, e) => setPlacing({ at: viewing.toDiagram(e), screen: { x: 0, y: 0 }, text: type, from: null, now: true });
    actions.current = {
      viewport: viewing.viewport.current,
      show: viewing.show,
      fit: viewing.fit,
      reveal: viewing.reveal,
      openPlacing,
      openWiring,
      cancel: () => {
        const busy = tool.kind !== "idle" || placing !== null || menu !== null || wiring !== null;
        setTool(idle);
        setWiring(null);
        setPlacing(null);
        setMenu(null);
        return busy;
      },
      rename: (id) => setNaming(id),
      size: viewing.size,
    };
  });
  const key = useMemo(() => diagramKeys(() => actions.current as KeyActions), []);

  // What is typed after opening a level belongs to its diagram.
  useEffect(() => host.current?.focus({ preventScroll: true }), []);

  // Menus over the diagram are not in it, though React tells of their events here.
  const isHere = (e: React.SyntheticEvent) => host.current?.contains(e.target as Node) ?? false;

  const draft = drawn ? (routes.get(DRAFT) ?? draftPoints(scene, drawn)) : null;
  const far = useMemo(
    () => ({ diagram, views, routes, selection, flags, shift: shift && !shift.copy ? shift : null }),
    [diagram, views, routes, selection, flags, shift],
  );
  const within = isFar ? nothing : visible;

  return (
    <div
      className={cx("diagram", `tool-${tool.kind}`, { looking: tidied })}
      ref={host}
      tabIndex={0}
      role="application"
      aria-label="Diagram. Type to place a part, full stop to wire it, Page Down to go through parts, arrow keys to move."
      onPointerDown={tidied ? undefined : gestures.down}
      onPointerMove={gestures.move}
      onPointerUp={gestures.up}
      onKeyDown={(e) => isHere(e) && !tidied && key(e.nativeEvent)}
      onClick={(e) => {
        // The name of a wire that is not drawn leads to its other end.
        const leads = (e.target as Element).closest<HTMLElement>("[data-leads]")?.dataset.leads;
        if (leads) viewing.reveal(leads);
      }}
      onContextMenu={(e) => {
        e.preventDefault();
        // The pointer's own menu comes when its button goes up; here the keyboard asks.
        if (isHere(e) && e.button !== 2) setMenu(menuAtSelection());
      }}
      onDoubleClick={(e) => {
        if (!isHere(e)) return;
        const { part, isName } = gestures.under(e);
        if (part && part in diagram.parts && isName) setNaming(part);
        else if (part) openLevel(part);
      }}
    >
      {isFar && <FarCanvas scene={far} index={index} viewport={viewing.viewport} size={viewing.size} onShow={onShow} />}
      <div className={cx("world")} ref={world}>
        {!isFar && <Areas diagram={diagram} shift={shift} selection={selection} tool={tool} />}
        <WireLayer scene={scene} tool={tool} selection={selection} sources={sources} faults={faults} within={within} draft={draft} />
        <Parts scene={scene} shift={shift} selection={selection} flags={flags} wired={wired} within={within} />
        <Others />
        {!isFar && <Notes diagram={diagram} shift={shift} selection={selection} />}
        <svg className={cx("names")} width="1" height="1">
          {!isFar && <SignalTags routes={routes} sources={sources} within={visible} />}
          {!isFar && <CoverageMarks within={visible} />}
        </svg>
        {naming && (
          <NameField
            key={naming}
            id={naming}
            views={views}
            onClose={() => {
              setNaming(null);
              host.current?.focus({ preventScroll: true });
            }}
          />
        )}
        <Overlay scene={scene} tool={tool} target={tool.kind === "wire" && tool.target ? placeOf(scene, tool.target) : null} />
      </div>
      <div className="unseen" role="status">
        {selectionText(selection, diagram)}
      </div>
      {Object.keys(diagram.parts).length === 0 && !placing && (
        <div className={cx("empty-hint")}>
          Type the name of a part, such as <b>step</b> or <b>lag</b>, to place it here.
          <br />
          Drag from a port to wire parts; let go in the open to place the next one.
        </div>
      )}
      <DiagramToolbar onPlace={() => openPlacing("")} onFit={viewing.fit} onMenu={() => setMenu(menuAtSelection())} />
      {menu && (
        <ContextMenu
          request={menu}
          onPlace={() => openPlacing("")}
          onRename={setNaming}
          onWire={openWiring}
          onReplace={(id) => setPlacing({ at: menu.at, screen: menu, text: "", from: null, replacing: id })}
          onClose={() => {
            setMenu(null);
            host.current?.focus({ preventScroll: true });
          }}
        />
      )}
      <WireCard host={host} />
      <div className={cx("zoom", "mono")}>{Math.round(viewing.zoom * 100)} %</div>
      {wiring && (
        <WireTo
          request={wiring}
          views={views}
          onClose={() => {
            setWiring(null);
            host.current?.focus({ preventScroll: true });
          }}
        />
      )}
      {placing && (
        <QuickPlace
          request={placing}
          onClose={() => {
            setPlacing(null);
            host.current?.focus({ preventScroll: true });
          }}
        />
      )}
    </div>
  );
}

/** What is chosen, for those who do not see it. */
function selectionText(selection: ReadonlySet<string>, diagram: DiagramOfLevel): string {
  const [first] = selection;
  if (first === undefined) return "";
  if (selection.size > 1) return `${selection.size} selected`;
  const wire = diagram.wires[first];
  if (wire) return `Wire from ${diagram.parts[wire.from.part]?.name} to ${diagram.parts[wire.to.part]?.name} selected`;
  return `${diagram.parts[first]?.name ?? ""} selected`;
}

/** Something that is looked at only when nothing is being dragged: until then what it was before. */
function useSettled<T>(value: T, isMoving: boolean): T {
  const [settled, setSettled] = useState(value);
  if (!isMoving && settled !== value) setSettled(value);
  return isMoving ? settled : value;
}

/** Where the parts of a level and what else is drawn on it lie. */
function contentOf(diagram: DiagramOfLevel, views: Record<string, PartView>): Content {
  return {
    boxes: () => [
      ...Object.entries(diagram.parts).map(([id, p]) => ({
        x: p.x,
        y: p.y - 12,
        width: views[id]?.width ?? 64,
        height: (views[id]?.height ?? 48) + 12,
      })),
      ...Object.values(diagram.areas),
      ...Object.values(diagram.wires).flatMap((w) => w.bends.map((p) => ({ ...p, width: 0, height: 0 }))),
    ],
    boxOf: (id) => {
      const [node, view] = [diagram.parts[id], views[id]];
      return node && view ? { x: node.x, y: node.y, width: view.width, height: view.height } : null;
    },
  };
}
