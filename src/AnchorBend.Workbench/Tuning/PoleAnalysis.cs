using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Tuning;

/// <summary>How the poles of a model move with its parameters.</summary>
public sealed class PoleAnalysis(ComputeGate compute)
{
    static readonly TimeSpan Most = TimeSpan.FromSeconds(20),
        MostMoving = TimeSpan.FromSeconds(3);

    const int Values = 61,
        MostMovers = 12;

    /// <summary>How far around its present value a parameter goes.</summary>
    const double Around = 10;

    static Func<ParameterSet, OperatingPoint> Points(
        PreparedModel prepared,
        ModelDocument document,
        double? at,
        CancellationToken wanted
    ) => set => LoopProposal.PointAt(prepared, set, at, DocumentRun.OptionsOf(document), wanted);

    /// <exception cref="DesignException">Samples lie in the model's loops.</exception>
    public MoversAnswer Movers(ModelSession session, MoversRequest request, CancellationToken wanted) => compute.Run(Most, wanted, token =>
        {
            var (prepared, document) = SavedPoints.Model(session, request.Point, token);
            var (found, looked, all) = RootLocus.Movers(
                prepared,
                new Complex(request.Re, request.Im),
                Points(prepared, document, request.At, token),
                MostMoving,
                token
            );
            return new MoversAnswer(
                [
                    .. found
                        .Take(MostMovers)
                        .Select(m => new MoverView(
                            m.Parameter,
                            prepared.Map.Find(prepared.Find(m.Parameter)!.Owner)?.Path.ToString(),
                            m.Frequency,
                            m.Damping / 100
                        )),
                ],
                looked,
                all
            );
        });

    /// <exception cref="DesignException">It is no such parameter, its values do not rise, or samples lie in the model's loops.</exception>
    public LocusAnswer Locus(ModelSession session, LocusRequest request, CancellationToken wanted) =>
        compute.Run(Most, wanted, token => LocusOf(session, request, token));

    static LocusAnswer LocusOf(ModelSession session, LocusRequest request, CancellationToken wanted)
    {
        var (prepared, document) = SavedPoints.Model(session, request.Point, wanted);
        var present = new ParameterSet(prepared.Model);
        var variable = prepared.Find(request.Parameter) ?? throw Linearizer.Unknown(prepared.Model, request.Parameter);
        var unit = new VariableViews(prepared, present.Values).CoherentUnit(variable);
        var now = present.Values[variable.Index];
        double Read(string? text, double otherwise) =>
            text is not { Length: > 0 } ? otherwise
            : TypedValue.Number(text, unit) is { } v && double.IsFinite(v) ? v
            : throw new DesignException(
                "value",
                $"'{text}' is no value of '{request.Parameter}'.",
                "Type a number, with a unit if wanted."
            );
        var (from, to) = (Read(request.From, now / Around), Read(request.To, now * Around));
        if (now < 0 && request.From is not { Length: > 0 } && request.To is not { Length: > 0 })
            (from, to) = (to, from);
        if (!(to > from))
            throw new DesignException("range", "The parameter's values must rise.", "Give a lower and a higher one.");
        // Evenly by the logarithm where the sign stays.
        double At(int i) =>
            from > 0 ? from * Math.Pow(to / from, i / (Values - 1.0))
            : to < 0 ? -(-to * Math.Pow(from / to, 1 - i / (Values - 1.0)))
            : from + (to - from) * i / (Values - 1.0);
        var locus = RootLocus.Of(
            prepared,
            variable.Name,
            [.. Enumerable.Range(0, Values).Select(At)],
            Points(prepared, document, request.At, wanted),
            wanted
        );
        if (locus.All(p => p.Poles is null))
            throw new DesignException("no-point", "There is no operating point with any of these values.", "Choose others.");
        var branches = locus.Max(p => p.Poles?.Length ?? 0);
        return new LocusAnswer(
            variable.Name,
            unit?.Symbol is { } symbol && symbol != "1" ? Unit.Pretty(symbol) : "",
            now,
            [.. locus.Select(p => p.Value)],
            [
                .. Enumerable
                    .Range(0, branches)
                    .Select(k =>
                        locus
                            .Select(p => p.Poles is { } poles && k < poles.Length ? new PoleView(poles[k].Real, poles[k].Imaginary) : null)
                            .ToList()
                    ),
            ]
        );
    }
}
