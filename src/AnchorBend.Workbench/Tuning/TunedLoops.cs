using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Tuning;

/// <summary>A controller of a model with the plant that it acts on, linear about an operating point.</summary>
sealed record TunedLoop(PreparedModel Prepared, ModelDocument Document, PartNode Node, LoopDesign Design)
{
    readonly Lock gate = new();
    readonly PlantResponse?[] responses = new PlantResponse?[2];

    public string Point => Design.Point.IsSteady ? "steady state at the start" : FormattableString.Invariant($"{Design.Point.Time:G5} s");

    /// <summary>The plant's response with the sign that the present gain has.</summary>
    public PlantResponse Response(CancellationToken wanted) => Response(Design.Present.K < 0 ? -1 : 1, wanted);

    public PlantResponse Response(int sign, CancellationToken wanted)
    {
        lock (gate)
            return responses[sign < 0 ? 0 : 1] ??= new PlantResponse(Design.Plant, sign, wanted);
    }
}

/// <summary>Finds the loops of models; those looked at last are kept, as a dragged point asks for the same one many times
/// a second.</summary>
public sealed class TunedLoops
{
    const int Kept = 12;

    readonly Lock gate = new();
    readonly List<(PreparedModel Prepared, string Part, double? At, TunedLoop Loop)> last = [];

    /// <param name="part">Path by ids.</param>
    /// <exception cref="NotFoundException">There is no such part.</exception>
    /// <exception cref="DesignException">It is no controller that can be tuned, or nothing comes back to it.</exception>
    internal TunedLoop Find(ModelSession session, string part, double? at, CancellationToken wanted)
    {
        var (prepared, document, _) = Runnable(session, wanted);
        lock (gate)
            if (last.Find(l => ReferenceEquals(l.Prepared, prepared) && l.Part == part && l.At == at).Loop is { } known)
                return known;
        if (!PartPath.TryParse(part, out var path) || document.Part(path) is not { } found || prepared.Map.NameOf(path) is not { } name)
            throw new NotFoundException("There is no such part.");
        if (!IsTunable(session, found.Part))
            throw new DesignException(
                "not-a-controller",
                $"'{found.Part.Name}' is not a PID controller.",
                "Choose a controller whose gains can be proposed."
            );
        var parameters = new ParameterSet(prepared.Model);
        // What cannot be tuned should not wait for a run to its operating point.
        LoopDesign.PresentGains(prepared, parameters, name);
        var point = Point(prepared, document, parameters, at, wanted);
        var loop = new TunedLoop(prepared, document, found.Part, LoopDesign.Of(prepared, parameters, name, point));
        lock (gate)
        {
            last.Add((prepared, part, at, loop));
            if (last.Count > Kept)
                last.RemoveAt(0);
        }

        return loop;
    }

    internal static bool IsTunable(ModelSession session, PartNode part) =>
        session.Catalog() is var catalog && catalog.Find(part.Type) is not null && catalog.Describe(part.Type).Traits.Tunable is not null;

    internal static (PreparedModel Prepared, ModelDocument Document, long Revision) Runnable(ModelSession session, CancellationToken wanted)
    {
        var now = session.Prepare(wanted);
        return now.Prepared.CanRun ? now : throw new DocumentException("The model has errors; see its findings.");
    }

    static readonly System.Runtime.CompilerServices.ConditionalWeakTable<PreparedModel, Dictionary<double, OperatingPoint>> points = [];

    /// <summary>All loops of a model are about one point, which is found once.</summary>
    static OperatingPoint Point(
        PreparedModel prepared,
        ModelDocument document,
        ParameterSet parameters,
        double? at,
        CancellationToken wanted
    )
    {
        var known = points.GetOrCreateValue(prepared);
        lock (known)
        {
            var key = at ?? -1;
            if (!known.TryGetValue(key, out var point))
                known[key] = point = LoopProposal.PointAt(prepared, parameters, at, DocumentRun.OptionsOf(document), wanted);
            if (known.Count > Kept)
                known.Remove(known.Keys.First(k => k != key));
            return point;
        }
    }
}
