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
        var texts = request.Best is null ? null : Filled(controller, found);
        return new PointDesignsAnswer(
            request.Between == true ? Between(session, request, controller, found, texts, wanted) : found,
            unit == "1" ? "" : unit,
            texts
        );
    }

    /// <summary>The points along what the schedule follows, or as they stand, each with the loop halfway to the next one.</summary>
    static List<PointDesignView> Between(
        ModelSession session,
        PointDesignsRequest request,
        TunedController controller,
        List<PointDesignView> found,
        Dictionary<string, string>? texts,
        CancellationToken wanted
    )
    {
        var (prepared, document, _) = session.Prepare(wanted);
        var ordered = controller.Law.IsScheduled ? [.. found.OrderBy(f => f.Quantity ?? double.MaxValue)] : found;
        var overrides = texts?.ToDictionary(t => $"{controller.Path}.{t.Key}", t => t.Value);
        PointDesignView Halfway(PointDesignView from, PointDesignView to)
        {
            wanted.ThrowIfCancellationRequested();
            var name = $"between {from.Name} and {to.Name}";
            try
            {
                var node = PointsBetween.Of(session, from.Point, to.Point, wanted);
                var (model, moved) = SavedPoints.At(session, prepared, document, BetweenId, node, overrides);
                var point = TunedLoops.Point(model, moved, null, wanted);
                var design = LoopDesign.Of(model, new ParameterSet(model.Model), controller.Path, point);
                var gains = request.Gains is { } typed ? DesignAsks.Typed(typed, design.Present, design.Law) : design.Present;
                // The best at each is nothing between them where no schedule leads from one to the other.
                return request.Best is not null && texts is null
                    ? new PointDesignView("", name, null, null, null, null, "There is no schedule to lead from one to the other.", true)
                    : View("", name, Quantity(model, design, controller.Path), LoopFigures.Of(gains, design.Plant, wanted), true);
            }
            catch (Exception e) when (e is DesignException or SimulationException or DocumentException)
            {
                return None("", name, e, true);
            }
        }

        var all = new List<PointDesignView>();
        for (var i = 0; i < ordered.Count; i++)
        {
            all.Add(ordered[i]);
            if (i + 1 < ordered.Count)
                all.Add(Halfway(ordered[i], ordered[i + 1]));
        }

        return all;
    }

    /// <summary>No saved point is called so: their ids have no blanks.</summary>
    const string BetweenId = "point between";

    static double? Quantity(PreparedModel prepared, LoopDesign design, string path) =>
        design.Law.IsScheduled
            ? GainSchedule.Of(prepared, new ParameterSet(prepared.Model), path).QuantityAt(prepared, design.Point)
            : null;

    static PointDesignView View(string id, string name, double? quantity, LoopFigures figures, bool isBetween) =>
        new(
            id,
            name,
            quantity,
            DesignViews.View(figures.Gains),
            DesignViews.Figures(figures, null),
            DesignViews.Warning(figures),
            null,
            isBetween
        );

    static PointDesignView None(string id, string name, Exception e, bool isBetween) =>
        new(id, name, null, null, null, null, e is DesignException d ? $"{d.Message} {d.Advice}" : e.Message, isBetween);

    PointDesignView At(ModelSession session, PointDesignsRequest request, string id, CancellationToken wanted)
    {
        var name = session.Prepare(wanted).Document.OperatingPoints.GetValueOrDefault(id)?.Name ?? throw SavedPoints.Gone();
        try
        {
            var loop = loops.Find(session, request.Part, null, id, wanted);
            var design = loop.Design;
            var figures =
                request.Best is { } best ? new DesignAsks(loop, _ => loop, wanted).Best(best, [design.Plant])[0]
                : request.Gains is { } gains ? LoopFigures.Of(DesignAsks.Typed(gains, design.Present, design.Law), design.Plant, wanted)
                : LoopFigures.Of(design.Present, design.Plant, wanted);
            return View(id, name, Quantity(loop.Prepared, design, loop.Controller.Path), figures, false);
        }
        catch (Exception e) when (e is DesignException or SimulationException or DocumentException)
        {
            return None(id, name, e, false);
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
