using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Tuning;

/// <summary>One loop at several saved operating points: with the same gains, with those of its schedule, or with the best at each, to fill
/// it.</summary>
public sealed class PointDesigns(ComputeGate compute, TunedLoops loops)
{
    static readonly TimeSpan Most = TimeSpan.FromSeconds(60);

    public PointDesignsAnswer Of(ModelSession session, PointDesignsRequest request, CancellationToken wanted) =>
        compute.Run(Most, wanted, token => Find(session, request, token));

    PointDesignsAnswer Find(ModelSession session, PointDesignsRequest request, CancellationToken wanted)
    {
        var found = request.Points.Distinct().Select(id => At(session, request, id, wanted)).ToList();
        var controller = TunedLoops.Controller(session, request.Part, null, wanted);
        var unit = "";
        if (controller.Law.IsScheduled && controller.Prepared.Model.Find($"{controller.Path}.at[1]") is { } at)
            unit = new VariableViews(controller.Prepared, new ParameterSet(controller.Prepared.Model).Values).CoherentUnit(at)?.Symbol
                ?? "";
        return new PointDesignsAnswer(found, unit == "1" ? "" : unit, request.Best is null ? null : Filled(controller, found));
    }

    PointDesignView At(ModelSession session, PointDesignsRequest request, string id, CancellationToken wanted)
    {
        var name = session.Prepare(wanted).Document.OperatingPoints.GetValueOrDefault(id)?.Name ?? throw SavedPoints.Gone();
        try
        {
            var loop = loops.Find(session, request.Part, null, id, wanted);
            var design = loop.Design;
            double? quantity = design.Law.IsScheduled
                ? GainSchedule
                    .Of(loop.Prepared, new ParameterSet(loop.Prepared.Model), loop.Controller.Path)
                    .QuantityAt(loop.Prepared, design.Point)
                : null;
            var figures =
                request.Best is { } best ? new DesignAsks(loop, _ => loop, wanted).Best(best, [design.Plant])[0]
                : request.Gains is { } gains ? LoopFigures.Of(DesignAsks.Typed(gains, design.Present, design.Law), design.Plant, wanted)
                : LoopFigures.Of(design.Present, design.Plant, wanted);
            return new PointDesignView(
                id,
                name,
                quantity,
                DesignViews.View(figures.Gains),
                DesignViews.Figures(figures, null),
                DesignViews.Warning(figures),
                null
            );
        }
        catch (Exception e) when (e is DesignException or SimulationException or DocumentException)
        {
            return new PointDesignView(id, name, null, null, null, null, e is DesignException d ? $"{d.Message} {d.Advice}" : e.Message);
        }
    }

    /// <summary>The table of a schedule with a row for each point, rising; of points with one value of the quantity, one.</summary>
    static Dictionary<string, string>? Filled(TunedController controller, List<PointDesignView> found)
    {
        if (!controller.Law.IsScheduled)
            return null;
        var rows = found
            .Where(f => f.Gains is not null && f.Quantity is { } q && double.IsFinite(q))
            .OrderBy(f => f.Quantity)
            .DistinctBy(f => double.Round(f.Quantity!.Value, 9))
            .ToList();
        return rows.Count < 2
            ? null
            : new Dictionary<string, string>
            {
                ["at"] = TunedController.Row(rows.Select(r => r.Quantity!.Value)),
                ["k"] = TunedController.Row(rows.Select(r => r.Gains!.K!.Value)),
                ["Ti"] = TunedController.Row(rows.Select(r => r.Gains!.Ti ?? 1)),
                ["Td"] = TunedController.Row(rows.Select(r => r.Gains!.Td ?? 0)),
            };
    }
}
