using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;

namespace AnchorBend.Workbench.Tuning;

/// <summary>A controller of a model that can be tuned.</summary>
/// <param name="Path">By names.</param>
sealed record TunedController(
    PreparedModel Prepared,
    ModelDocument Document,
    PartNode Node,
    string Path,
    ControllerLaw Law,
    LoopController Present
)
{
    /// <summary>The texts that set gains, each in the unit that stands in its field; of a schedule in the row nearest to where it
    /// stands. Where another part would have to take the controller's place, all of that part's.</summary>
    /// <param name="point">Where a schedule stands; null for its first row.</param>
    /// <exception cref="DesignException">This kind of controller cannot have them.</exception>
    public Dictionary<string, string> Texts(LoopController gains, OperatingPoint? point = null) =>
        Substitute(gains)?.Node.Parameters ?? Texts(Law, gains, point, Node.Parameters);

    /// <summary>The part that would take the controller's place; null where its own can have the gains.</summary>
    public ControllerSubstitute? Substitute(LoopController gains) =>
        Law.CanHave(gains)
            ? null
            : ControllerSubstitute.Of(
                Document,
                Prepared.Map.Find(Path)!,
                gains,
                Limits,
                Texts(ControllerLaw.Usual(gains), gains, null, new Dictionary<string, string>())
            );

    Dictionary<string, string> Texts(
        ControllerLaw law,
        LoopController gains,
        OperatingPoint? point,
        IReadOnlyDictionary<string, string> present
    )
    {
        var texts = new Dictionary<string, string>();
        if (law.IsScheduled)
        {
            var schedule = GainSchedule.Of(Prepared, new ParameterSet(Prepared.Model), Path);
            var row = schedule.Nearest(schedule.QuantityAt(Prepared, point));
            foreach (var (name, value) in law.Write(gains))
                texts[name] = Row([.. schedule.Columns[name].Select((v, i) => i == row ? value : v)]);
            if (Weight(law, gains) is { } of)
                texts["b"] = TypedValue.InUnitOf(present.GetValueOrDefault("b"), of, null);
            return texts;
        }

        if (law.HasForm)
            texts["form"] = $"Form.{gains.Name}";
        if (gains is RejectionGains { Order: var order })
            texts["order"] = order == 1 ? "Order.First" : "Order.Second";
        foreach (var (name, value) in law.Write(gains))
            texts[name] = TypedValue.InUnitOf(present.GetValueOrDefault(name), value, Prepared.Model.Find($"{Path}.{name}")?.Unit);
        if (Weight(law, gains) is { } weight)
            texts["b"] = TypedValue.InUnitOf(present.GetValueOrDefault("b"), weight, null);
        return texts;
    }

    /// <summary>The weight of the set-point where it is to be written: where it is another one than the part has.</summary>
    double? Weight(ControllerLaw law, LoopController gains)
    {
        var has = law == Law && Present is PidGains own ? own.B : 1;
        return law.HasWeight && gains is PidGains pid && pid.B != has ? pid.B : null;
    }

    /// <summary>The limits of the controller's output, in the unit of the model; null where it has none: a limit that is left at what
    /// stands for none, or that the part does not keep.</summary>
    public (double? Low, double? High) Limits
    {
        get
        {
            var values = new ParameterSet(Prepared.Model).Values;
            double? Value(string name) => Prepared.Model.Find($"{Path}.{name}") is { } v ? values[v.Index] : null;
            if (Law.HasLimits && !(Value("limited") > 0))
                return (null, null);
            double? Told(string name) => Value(name) is { } v && Math.Abs(v) < NoLimit ? v : null;
            return (Told("uMin"), Told("uMax"));
        }
    }

    /// <summary>What the parts without a switch for their limits have where they have none.</summary>
    const double NoLimit = 1e9;

    /// <summary>Numbers as a field takes a row of them, in the units that the model computes in.</summary>
    public static string Row(IEnumerable<double> values) =>
        $"{{{string.Join(", ", values.Select(v => TypedValue.InUnitOf(null, v, null)))}}}";
}

/// <summary>A controller with the plant that it acts on, linear about an operating point.</summary>
sealed record TunedLoop(TunedController Controller, LoopDesign Design)
{
    readonly Lock gate = new();
    readonly PlantResponse?[] responses = new PlantResponse?[2];

    public PreparedModel Prepared => Controller.Prepared;

    /// <summary>The plant's response with the sign that the present gain has.</summary>
    public PlantResponse Response(CancellationToken wanted) => Response(Design.Sign, wanted);

    public PlantResponse Response(int sign, CancellationToken wanted)
    {
        lock (gate)
            return responses[sign < 0 ? 0 : 1] ??= new PlantResponse(Design.Plant, sign, Design.Present.Period, wanted);
    }
}

/// <summary>Finds the loops of models; those looked at last are kept, as a dragged point asks for the same one many times
/// a second.</summary>
public sealed class TunedLoops
{
    const int Kept = 12;

    readonly Lock gate = new();
    readonly List<(PreparedModel Prepared, string Part, double? At, TunedLoop Loop)> last = [];

    /// <summary>A controller in the model with other gains in some of its controllers.</summary>
    /// <param name="part">Path by ids.</param>
    /// <param name="saved">Id of a saved operating point; null for the model as it is.</param>
    /// <exception cref="RefusedException">There is no such part.</exception>
    /// <exception cref="DesignException">One of them is no controller that can have the gains.</exception>
    /// <exception cref="DocumentException">The model with these gains has errors.</exception>
    internal static TunedController With(
        ModelSession session,
        string part,
        string? saved,
        IEnumerable<TunedPart> gains,
        CancellationToken wanted
    )
    {
        var (prepared, document) = SavedPoints.Model(session, saved, wanted);
        var overrides = new Dictionary<string, string>();
        var swapped = document;
        foreach (var (path, wished) in gains)
        {
            var controller = Controller(session, path, prepared, document);
            var wishedGains = DesignAsks.Typed(wished, controller.Present, controller.Law);
            if (controller.Substitute(wishedGains) is { } other)
            {
                swapped = other.In(swapped, prepared.Map.Find(controller.Path)!);
                continue;
            }

            var point = controller.Law.IsScheduled ? Point(prepared, document, null, wanted) : null;
            foreach (var (name, text) in controller.Texts(wishedGains, point))
                overrides[$"{controller.Path}.{name}"] = text;
        }

        var isOther = !ReferenceEquals(swapped, document);
        document = swapped;
        if (isOther || overrides.Count > 0)
            prepared = DocumentPreparation.Prepare(document, session.CatalogOf(document), prepared, overrides);
        return prepared.CanRun
            ? Controller(session, part, prepared, document)
            : throw new DocumentException("With these gains the model has errors.");
    }

    /// <param name="part">Path by ids.</param>
    /// <param name="saved">Id of a saved operating point; null for the model as it is.</param>
    /// <exception cref="RefusedException">There is no such part.</exception>
    /// <exception cref="DesignException">It is no controller that can be tuned.</exception>
    internal static TunedController Controller(ModelSession session, string part, string? saved, CancellationToken wanted)
    {
        var (prepared, document) = SavedPoints.Model(session, saved, wanted);
        return Controller(session, part, prepared, document);
    }

    static TunedController Controller(ModelSession session, string part, PreparedModel prepared, ModelDocument document)
    {
        if (!PartPath.TryParse(part, out var path) || document.Part(path) is not { } found || prepared.Map.NameOf(path) is not { } name)
            throw new RefusedException("This controller is not in the model any more.", "Choose another loop.");
        if (!IsTunable(session, found.Part))
            throw new DesignException(
                "not-a-controller",
                $"'{found.Part.Name}' is not a controller that can be tuned.",
                "Choose a controller whose gains can be proposed."
            );
        var (law, present) = LoopDesign.Controller(prepared, new ParameterSet(prepared.Model), name);
        return new TunedController(prepared, document, found.Part, name, law, present);
    }

    /// <param name="part">Path by ids.</param>
    /// <param name="saved">Id of a saved operating point; null for the model as it is.</param>
    /// <exception cref="RefusedException">There is no such part.</exception>
    /// <exception cref="DesignException">It is no controller that can be tuned, or nothing comes back to it.</exception>
    internal TunedLoop Find(ModelSession session, string part, double? at, string? saved, CancellationToken wanted)
    {
        var (present, _) = SavedPoints.Model(session, saved, wanted);
        lock (gate)
            if (last.Find(l => ReferenceEquals(l.Prepared, present) && l.Part == part && l.At == at).Loop is { } known)
                return known;
        // What cannot be tuned should not wait for a run to its operating point.
        var controller = Controller(session, part, saved, wanted);
        var (prepared, parameters) = (controller.Prepared, new ParameterSet(controller.Prepared.Model));
        var point = Point(prepared, controller.Document, at, wanted);
        var loop = new TunedLoop(controller, LoopDesign.Of(prepared, parameters, controller.Path, point));
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

    static readonly System.Runtime.CompilerServices.ConditionalWeakTable<PreparedModel, Dictionary<double, OperatingPoint>> points = [];

    /// <summary>The operating point of a model; it is found once for all that is asked about it.</summary>
    /// <exception cref="DesignException">There is none.</exception>
    /// <exception cref="SimulationException">The run does not get there.</exception>
    internal static OperatingPoint Point(PreparedModel prepared, ModelDocument document, double? at, CancellationToken wanted)
    {
        var known = points.GetOrCreateValue(prepared);
        lock (known)
        {
            // No instant lies before zero.
            var key = at ?? -1;
            if (!known.TryGetValue(key, out var point))
                known[key] = point = LoopProposal.PointAt(
                    prepared,
                    new ParameterSet(prepared.Model),
                    at,
                    DocumentRun.OptionsOf(document),
                    wanted
                );
            if (known.Count > Kept)
                known.Remove(known.Keys.First(k => k != key));
            return point;
        }
    }
}
