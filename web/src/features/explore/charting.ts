import { BarChart, BoxplotChart, CustomChart, HeatmapChart, LineChart, ParallelChart, ScatterChart } from "echarts/charts";
import {
  BrushComponent,
  GridComponent,
  MarkLineComponent,
  ParallelComponent,
  TooltipComponent,
  VisualMapContinuousComponent,
} from "echarts/components";
import * as core from "echarts/core";
import { CanvasRenderer, SVGRenderer } from "echarts/renderers";

core.use([
  BarChart,
  BoxplotChart,
  CustomChart,
  HeatmapChart,
  LineChart,
  ParallelChart,
  ScatterChart,
  BrushComponent,
  GridComponent,
  MarkLineComponent,
  ParallelComponent,
  TooltipComponent,
  VisualMapContinuousComponent,
  CanvasRenderer,
  SVGRenderer,
]);

export { core };
