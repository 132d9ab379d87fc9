using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Tuning;

/// <summary>Loops of models, what can be had of them, and gains for them.</summary>
public sealed class LoopTuning(ComputeGate compute, TunedLoops loops)
{
    /// <summary>What an answer may take, the run to its operating point included.</summary>
    static readonly TimeSpan MostTuning = TimeSpan.FromSeconds(30);

    const int MostLoops = 40;

    /// <summary>The loops of a model, inner ones first, each with its present gains.</summary>
    public LoopsAnswer Loops(ModelSession session, LoopsRequest request, CancellationToken wanted) =>
        compute.Run(MostTuning, wanted, token => LoopsOf(session, request, token));

    LoopsAnswer LoopsOf(ModelSession session, LoopsRequest request, CancellationToken wanted)
    {
        var (prepared, _) = SavedPoints.Model(session, request.Point, wanted);
        var parts = prepared.Map.Parts.Where(p => TunedLoops.IsTunable(session, p.Node)).Take(MostLoops).ToList();
        var names = parts.ToDictionary(p => p.Path, p => prepared.Map.NameOf(p.Path)!);
        var around = LoopNesting.Of(prepared, [.. names.Values]);
        int Depth(string name) => around[name] is { } outer ? 1 + Depth(outer) : 0;
        var point = "steady state at the start";
        LoopView View(PartPlace place, int order)
        {
            var name = names[place.Path];
            var pointer = DocumentPath.Of("definitions", place.Definition, "parts", place.Path.Id, "parameters");
            var outer = around[name] is { } o ? prepared.Map.Find(o)!.Path.ToString() : null;
            IReadOnlyList<string> forms = [],
                others = [];
            try
            {
                var law = TunedLoops.Controller(session, place.Path.ToString(), request.Point, wanted).Law;
                (forms, others) = (law.Names, ControllerSubstitute.Names(law));
                var loop = loops.Find(session, place.Path.ToString(), request.At, request.Point, wanted);
                point = loop.Design.Point.Name;
                return new LoopView(
                    place.Path.ToString(),
                    place.Node.Name,
                    name,
                    outer,
                    pointer,
                    order,
                    forms,
                    others,
                    loop.Design.Present.Period is > 0 and var period ? period : null,
                    DesignViews.View(loop.Design.Present),
                    DesignViews.Figures(LoopFigures.Of(loop.Design.Present, loop.Design.Plant, wanted), null),
                    null
                );
            }
            catch (DesignException e)
            {
                return new LoopView(
                    place.Path.ToString(),
                    place.Node.Name,
                    name,
                    outer,
                    pointer,
                    order,
                    forms,
                    others,
                    null,
                    null,
                    null,
                    $"{e.Message} {e.Advice}"
                );
            }
        }

        var ordered = parts.OrderByDescending(p => Depth(names[p.Path])).Select((p, i) => View(p, i + 1)).ToList();
        return new LoopsAnswer(point, ordered);
    }

    /// <summary>What a form reaches.</summary>
    /// <exception cref="DesignException">There is no loop, or the form makes it stable nowhere.</exception>
    public MapAnswer Map(ModelSession session, MapRequest request, CancellationToken wanted) =>
        compute.Run(MostTuning, wanted, token => MapOf(session, request, token));

    MapAnswer MapOf(ModelSession session, MapRequest request, CancellationToken wanted)
    {
        var loop = loops.Find(session, request.Part, request.At, request.Point, wanted);
        var shape = DesignAsks.Shape(request.Form, request.Ratio, loop.Design);
        if (shape is PidGains { Form: PidForm.P })
            throw new DesignException("form", "P has one gain, so it fills no map.", "Take PI, PD or PID.");
        if (request is { From: { } from, To: { } to } && !(from > 0 && to > from && to < from * 1e6))
            throw new DesignException("range", "The map's bandwidths must rise.", "Give a lower and a higher one, in rad/s.");
        var present = StabilityMargins.Of(loop.Design.Present.OpenLoop(loop.Design.Plant), wanted);
        var wishes = request.Wishes?.Read();
        List<double> seen = [.. present.GainCrossings.Select(c => c.Frequency).Order().TakeLast(1)];
        if (wishes?.Bandwidth is { } least)
            seen.Add(least);
        var (response, map) = Drawn(loop, shape, request, seen, wanted);
        var advice = wishes is null ? null : MapAdvice.Of(response, shape, map, wishes, wanted);
        return new MapAnswer(
            loop.Design.Point.Name,
            shape.Name,
            shape is RejectionGains { Order: var order } ? loop.Design.InputGain(order, wanted) : null,
            map.Bandwidths,
            map.Peaks,
            [.. map.Places.Select(row => row.Select(p => p?.LoadError).ToList())],
            [.. map.Places.Select(row => row.Select(p => p?.NoiseGain).ToList())],
            [.. MapShore.Of(response, shape, map).Select(s => new ShoreView(s.From, s.To, s.Why))],
            advice is null ? null : new AdviceView(Place(advice.Best), advice.Stopper, Place(advice.Without)),
            Units(loop)
        );
    }

    static PlaceView? Place(MapPlace? p) =>
        p is null ? null : new PlaceView(p.Bandwidth, p.Sensitivity, p.PhaseMargin, p.NoiseGain, p.LoadError);

    static (PlantResponse Response, DesignMap Map) Drawn(
        TunedLoop loop,
        LoopController shape,
        MapRequest request,
        List<double> seen,
        CancellationToken wanted
    )
    {
        DesignMap Of(PlantResponse response) =>
            request is { From: { } from, To: { } to }
                ? DesignMap.Between(response, shape, from, to, wanted)
                : DesignMap.Of(response, shape, seen, wanted);
        var response = loop.Response(wanted);
        try
        {
            return (response, Of(response));
        }
        catch (DesignException) when (loop.Response(-response.Sign, wanted) is var turned)
        {
            // The present gain may have the wrong sign.
            return (turned, Of(turned));
        }
    }

    static LoopUnits Units(TunedLoop loop)
    {
        var (model, part) = (loop.Prepared.Model, loop.Design.Part);
        var parameters = new ParameterSet(model);
        var views = new VariableViews(loop.Prepared, parameters.Values);
        string Unit(string name) =>
            model.Find($"{part}.{name}") is { } v && views.CoherentUnit(v)?.Symbol is { } u && u != "1"
                ? Language.Units.Unit.Pretty(u)
                : "";
        var (low, high) = loop.Controller.Limits;
        return new LoopUnits(Unit("u"), Unit("y"), low, high);
    }

    /// <summary>Gains that were asked for, with all that they do.</summary>
    public DesignsAnswer Designs(ModelSession session, DesignsRequest request, CancellationToken wanted) =>
        compute.Run(MostTuning, wanted, token =>
            new DesignAsks(
                loops.Find(session, request.Part, request.At, request.Point, token),
                point => loops.Find(session, request.Part, null, point, token),
                token
            ).Answer(request)
        );

    /// <summary>The model's own run with other gains.</summary>
    public TrueRunView TrueRun(ModelSession session, TrueRunRequest request, CancellationToken wanted) =>
        compute.Run(MostTuning, wanted, token =>
        {
            IEnumerable<TunedPart> gains = request.Others ?? [];
            if (request.Gains is { } own)
                gains = gains.Append(new TunedPart(request.Part, own));
            return TunedRun.Of(TunedLoops.With(session, request.Part, request.Point, gains, token), token);
        });
}
