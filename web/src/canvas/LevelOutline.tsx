import { useMemo } from "react";
import type { Schemas } from "../api/client";
import { drawings } from "../ui/symbols";
import { FRAME, StrokeShape } from "../ui/Drawing";
import { domainColor, tokens } from "../ui/tokens";
import { frameOf } from "./LevelPicture";
import { pathData } from "./geometry";
import { RouteCache } from "./routes";

interface Props {
  picture: Schemas["DiagramDefinition"];
  views: Record<string, Schemas["PartView"]>;
  className?: string | undefined;
}

/** Lines keep their weight however small a level is drawn. */
const thin = { vectorEffect: "non-scaling-stroke" as const };

/** A level so small that nothing is read in it: plates, symbols and wires in the colours of their domains. */
export function LevelOutline({ picture, views, className }: Props) {
  const diagram = useMemo(() => ({ ...picture, kind: "diagram" as const }), [picture]);
  const routes = useMemo(() => new RouteCache().routes(diagram, views, null), [diagram, views]);
  const f = frameOf(diagram, views, routes);
  return (
    <svg viewBox={`${f.x} ${f.y} ${f.width} ${f.height}`} preserveAspectRatio="xMidYMid meet" className={className} aria-hidden>
      {Object.entries(diagram.areas).map(([id, a]) => (
        <rect key={id} x={a.x} y={a.y} width={a.width} height={a.height} rx="8" fill={tokens.hair} opacity="0.5" />
      ))}
      {[...routes].map(([id, points]) => {
        const wire = diagram.wires[id];
        const port = wire && views[wire.from.part]?.ports.find((p) => p.name === wire.from.port);
        return (
          <path
            key={id}
            d={pathData(points)}
            fill="none"
            stroke={domainColor(port?.domain)}
            strokeWidth={port?.domain || port?.kind === "bundle" ? 1.4 : 0.9}
            strokeDasharray={port?.kind === "boolean" ? "3 2" : undefined}
            {...thin}
          />
        );
      })}
      {Object.entries(diagram.parts).map(([id, node]) => {
        const view = views[id];
        if (!view) return null;
        const { width, height } = view;
        const plate = { fill: tokens.surface, stroke: tokens.edge, strokeWidth: 0.9, opacity: view.leftOut ? 0.4 : 1, ...thin };
        const drawing = view.symbol ? drawings[view.symbol] : undefined;
        return (
          <g key={id} transform={`translate(${node.x} ${node.y})`}>
            {view.shape === "circle" ? (
              <circle cx={width / 2} cy={height / 2} r={width / 2} {...plate} />
            ) : (
              <rect width={width} height={height} rx="4" {...plate} />
            )}
            {view.drawing?.sketch ? (
              <g transform={`translate(${(width - FRAME.width) / 2} ${(height - FRAME.height) / 2})`}>
                {view.drawing.sketch.map((s, i) => (
                  <StrokeShape key={i} stroke={s} />
                ))}
              </g>
            ) : drawing ? (
              <g transform={`translate(${(width - 40) / 2} ${(height - 30) / 2})`} fill="none">
                <path d={drawing.lines} stroke={tokens.ink} strokeWidth="0.9" {...thin} />
                {drawing.fill && <path d={drawing.fill} fill={tokens.ink} />}
              </g>
            ) : null}
          </g>
        );
      })}
    </svg>
  );
}
