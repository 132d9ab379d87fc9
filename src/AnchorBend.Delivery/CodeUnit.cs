using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Compiler.Planning;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Grid;

namespace AnchorBend.Delivery;

/// <summary>What is to become code.</summary>
/// <param name="Part">By ids, or by names with dots between them.</param>
/// <param name="Step">Of the code, s.</param>
/// <param name="Tunable">Names of the part's parameters that can be changed while the code runs; all where it is null.</param>
/// <param name="Alternative">The one of a slot that is meant; null for the one that is chosen.</param>
/// <param name="IsSolvedOutside">Whether who calls the code integrates its states and finds its events; step and method then say
/// nothing.</param>
public sealed record CodeRequest(
    string Part,
    double Step,
    GridMethod Method,
    bool IsFloat,
    IReadOnlyList<string>? Tunable,
    string? Alternative = null,
    bool IsSolvedOutside = false
)
{
    /// <summary>Methods by the names that people type.</summary>
    public static readonly IReadOnlyDictionary<string, GridMethod> Methods = new Dictionary<string, GridMethod>
    {
        ["euler"] = GridMethod.Euler,
        ["heun"] = GridMethod.Heun,
        ["rk4"] = GridMethod.RungeKutta4,
    };
}

/// <summary>A value that goes in or comes out.</summary>
/// <param name="Name">As the part calls it.</param>
/// <param name="Variable">Of the flat model.</param>
public sealed record CodePort(string Name, FlatVariable Variable);

/// <summary>Why a part cannot become code.</summary>
public sealed class DeliveryException(string code, string message, string advice) : Exception(message)
{
    public string Code { get; } = code;

    public string Advice { get; } = advice;
}

/// <summary>A part of a model alone, with its inputs open, sorted for steps of equal length.</summary>
public sealed class CodeUnit
{
    /// <summary>What the part is called in the model of its own.</summary>
    const string Alone = PartAlone.Name;

    CodeUnit(string name, CodeRequest request, FlatModel model, ExecutionPlan plan)
    {
        (Name, Request, Model, Plan) = (name, request, model, plan);
        Parameters = new ParameterSet(model);
        Program = StepProgram.Of(plan);
    }

    public string Name { get; }

    /// <summary>Leads from the unit's variables back to what was drawn.</summary>
    public required SourceMap Map { get; init; }

    public CodeRequest Request { get; }

    public FlatModel Model { get; }

    public ExecutionPlan Plan { get; }

    public StepProgram Program { get; }

    public ParameterSet Parameters { get; }

    public required IReadOnlyList<CodePort> Inputs { get; init; }

    public required IReadOnlyList<CodePort> Outputs { get; init; }

    /// <summary>Parameters that can be changed while the code runs.</summary>
    public required IReadOnlyList<CodePort> Tunable { get; init; }

    /// <summary>Parameters that could be, if one wanted.</summary>
    public required IReadOnlyList<CodePort> Changeable { get; init; }

    public required IReadOnlyList<GridClock> Clocks { get; init; }

    /// <summary>What ends a run of the model where it does not hold, with its part: the code does not look at it.</summary>
    public required IReadOnlyList<string> Unchecked { get; init; }

    /// <summary>Whether a solver has found the start, with the parameters as they are: others begin from the same state.</summary>
    public required bool IsStartFound { get; init; }

    /// <summary>Values of the states at the start that a solver has found; null where they are the start values themselves.</summary>
    public required IReadOnlyList<double>? Starts { get; init; }

    /// <exception cref="DeliveryException">The code makes no steps of its own that could be compared.</exception>
    public void RefuseSteps()
    {
        if (Request.IsSolvedOutside)
            throw new DeliveryException(
                "steps",
                $"'{Name}' is integrated by who has it, so it has no steps to compare with the model's.",
                "Check it as C code or for co-simulation: the equations are the same."
            );
    }

    CompiledPlan? compiled;

    /// <summary>The same computed here, as the code has to compute it.</summary>
    public GridRun Reference()
    {
        compiled ??= PlanEmitter.Compile(Plan);
        return new GridRun(
            compiled,
            Parameters,
            Request.Step,
            Request.Method,
            Starts ?? [.. Plan.States.Select(s => s < Parameters.Starts.Length ? Parameters.Starts[s] : 0)]
        );
    }

    /// <summary>The drawn part that a path of the flat model leads to, by names from the unit down; empty for the unit itself.</summary>
    public static string PathWithin(string owner) =>
        owner == Alone ? ""
        : owner.StartsWith(Alone + ".", StringComparison.Ordinal) ? owner[(Alone.Length + 1)..]
        : owner;

    /// <param name="whole">The model that the part is in, and <paramref name="document"/> what it was prepared from.</param>
    /// <param name="set">Values that the model was given beside the document, by their paths.</param>
    /// <exception cref="DeliveryException">It cannot become code; says why, with the part.</exception>
    public static CodeUnit Of(
        PreparedModel whole,
        ModelDocument document,
        PartCatalog catalog,
        CodeRequest request,
        IReadOnlyDictionary<string, string>? set = null
    )
    {
        if (!(request.Step is > 1e-9 and < 1e6))
            throw new DeliveryException("step", "The step must lie between 1 ns and 1,000,000 s.", "Type it as 1 ms, for example.");
        if (request is { IsSolvedOutside: true, IsFloat: true })
            throw new DeliveryException(
                "float",
                "States that are integrated outside have numbers of 64 bits, by the standard.",
                "Take double, or co-simulation."
            );
        if (request.Part.Length == 0)
            return Whole(whole, document, request);
        var place = (PartPath.TryParse(request.Part, out var path) ? whole.Map.Parts.FirstOrDefault(p => p.Path == path) : null)
            ?? whole.Map.Find(request.Part)
            ?? throw new DeliveryException(
                "part",
                $"The model has no part '{request.Part}'.",
                "Name it with the parts it is in: Drive.Controller."
            );
        if (request.Alternative is { } alternative)
            place = place with { Node = Chosen(document, place.Node, alternative) };
        var alone = PartAlone.Of(whole, document, place, new DiagramDefinition { Name = "Unit" });
        var description = catalog.For(alone).Describe(place.Node.Type);
        RefusePhysical(place.Node.Name, description.Ports.Where(p => p.Optional is null));
        var name = whole.Map.NameOf(place.Path) + ".";
        var own = set
            ?.Where(v => v.Key.StartsWith(name, StringComparison.Ordinal))
            .ToDictionary(v => $"{Alone}.{v.Key[name.Length..]}", v => v.Value);
        var prepared = DocumentPreparation.Prepare(alone, catalog, null, own);
        if (prepared.Compiled is null)
        {
            var wrong = prepared.Findings.First(f => f.Severity == Severity.Error);
            throw new DeliveryException(
                "unit",
                $"'{place.Node.Name}' is no model of its own: {Where(wrong.Part)}{wrong.Message}",
                wrong.Suggestion ?? "Deliver a part whose inputs and outputs are signals."
            );
        }

        return Opened(request.Alternative ?? place.Node.Name, request, prepared, description);
    }

    /// <summary>A slot with another alternative.</summary>
    static PartNode Chosen(ModelDocument document, PartNode slot, string alternative)
    {
        var diagram =
            DefinitionReference.Parse(slot.Type) is { IsOwn: true, Key: var id }
            && document.Definitions.GetValueOrDefault(id) is DiagramDefinition own
                ? own
                : null;
        var names = diagram is null ? [] : Slots.Of(diagram).Select(a => a.Name).ToList();
        if (!names.Contains(alternative))
            throw new DeliveryException(
                "alternative",
                $"'{slot.Name}' has no alternative '{DocumentLimits.Short(alternative)}'.",
                names.Count == 0 ? "It is no slot: leave the alternative out." : $"It has {string.Join(", ", names)}."
            );
        return slot with { Parameters = new(slot.Parameters) { [diagram!.Slot!] = Slots.Words(alternative) } };
    }

    /// <summary>The same of a document that is not prepared yet.</summary>
    /// <exception cref="DeliveryException">It cannot become code; says why, with the part.</exception>
    public static CodeUnit Of(ModelDocument document, PartCatalog catalog, CodeRequest request) =>
        Of(DocumentPreparation.Prepare(document, catalog), document, catalog, request);

    /// <summary>The drawn part that a path of the flat model leads to, by ids from the unit down; empty for the unit itself.</summary>
    public string PlaceWithin(string owner) =>
        Map.Around(owner) is { } place ? string.Join('/', place.Path.Steps.Skip(Request.Part.Length == 0 ? 0 : 1)) : "";

    /// <summary>Outputs of a whole model at most, where none of its signals has a name.</summary>
    const int MostOutputs = 100;

    /// <summary>A model without inputs; its outputs are the named signals of its top level, or else those of the parts there.</summary>
    static CodeUnit Whole(PreparedModel whole, ModelDocument document, CodeRequest request)
    {
        if (!whole.CanRun)
            throw new DeliveryException(
                "unit",
                $"The model does not run: {whole.Findings.First(f => f.Severity == Severity.Error).Message}",
                "Mend what is found in it."
            );
        var named =
            from signal in document.Main.Signals
            let flat = SignalReference.TryParse(signal.Key, out var reference) ? whole.Map.NameOf(reference) : null
            where signal.Value.Name is { Length: > 0 } && flat is not null
            let variable = whole.Model.Find(flat)
            where variable is not null
            select new CodePort(signal.Value.Name!, variable);
        var outputs = named.ToList();
        if (outputs.Count == 0)
            outputs =
            [
                .. whole
                    .Model.Variables.Where(v =>
                        v.Causality == Causality.Output
                        && v.Role is VariableRole.Continuous or VariableRole.Discrete
                        && whole.Map.Find(v.Owner) is { Path.Above.IsRoot: true }
                    )
                    .Take(MostOutputs)
                    .Select(v => new CodePort(v.Name, v)),
            ];
        return Sorted(document.Name, request, whole, [], outputs, v => v.Owner.Length == 0);
    }

    static string Where(string part) => PathWithin(part) is { Length: > 0 } inner ? $"{inner}: " : "";

    static CodeUnit Opened(string name, CodeRequest request, PreparedModel prepared, PartDescription description)
    {
        var model = prepared.Model;
        var values = model.ParameterValues();
        List<CodePort> Ports(Causality causality) =>
            [
                .. model
                    .Variables.Where(v => v.Causality == causality && v.Owner == Alone && v.Role != VariableRole.Parameter)
                    .Select(v => new CodePort(PathWithin(v.Name), v)),
            ];
        // An input that an option hides stays at what the part gives it.
        var hidden = description
            .Ports.Where(p => p.Optional is { } option && model.Find($"{Alone}.{option}") is { } shown && values[shown.Index] == 0)
            .Select(p => p.Name)
            .ToHashSet();
        var (inputs, outputs) = (Ports(Causality.Input), Ports(Causality.Output));
        inputs.RemoveAll(i => hidden.Contains(i.Name.Split('[')[0]));
        RefusePhysical(name, description.Ports.Where(p => !hidden.Contains(p.Name)));
        return Sorted(name, request, prepared, inputs, outputs, v => v.Owner == Alone);
    }

    static CodeUnit Sorted(
        string name,
        CodeRequest request,
        PreparedModel prepared,
        IReadOnlyList<CodePort> inputs,
        IReadOnlyList<CodePort> outputs,
        Func<FlatVariable, bool> isOwn
    )
    {
        if (outputs.Count == 0)
            throw new DeliveryException("outputs", $"'{name}' has no output.", "Deliver a part that computes something.");
        var open = prepared.Model.WithInputs(inputs.Select(i => i.Variable.Index).ToHashSet(), request.IsSolvedOutside);
        var (plan, findings) = Planner.Plan(open);
        if (plan is null)
            throw new DeliveryException(
                "unit",
                $"'{name}' cannot be sorted alone: {findings.First(f => f.Severity == Severity.Error).Message}",
                "Deliver a part whose inputs and outputs are signals."
            );
        Refuse(name, plan);
        var (changeable, follows) = ChangeableParameters.Of(open, plan, isOwn);
        var unit = new CodeUnit(name, request, open, plan)
        {
            Map = prepared.Map,
            Inputs = [.. inputs.Select(i => i with { Variable = open.Variables[i.Variable.Index] })],
            Outputs = outputs,
            Changeable = changeable,
            Tunable = TunableOf(name, request.Tunable, changeable, follows),
            Unchecked = [.. plan.Assertions.Where(a => a.IsError).Select(a => $"{Where(a.Owner)}{a.Message}").Distinct()],
            IsStartFound = plan.StartEquations.Count > 0,
            Clocks = request.IsSolvedOutside ? Ticking(plan) : ClocksOf(open, plan, request.Step),
            Starts = plan.StartEquations.Count == 0 ? null : Found(prepared, plan),
        };
        unit.RefuseCalls();
        return unit;
    }

    static IReadOnlyList<GridClock> ClocksOf(FlatModel model, ExecutionPlan plan, double step)
    {
        try
        {
            return GridClock.Of(plan, new ParameterSet(model), step);
        }
        catch (SimulationException e)
        {
            throw new DeliveryException(e.Failure.Code, $"{Where(e.Failure.Part)}{e.Failure.Message}", e.Failure.Advice);
        }
    }

    /// <summary>Where time passes freely, clocks go by their own times.</summary>
    static IReadOnlyList<GridClock> Ticking(ExecutionPlan plan) => [.. plan.Model.Clocks.Select(c => new GridClock(c.Flag, 0, 1))];

    /// <summary>Parameters that others lead to follow them while the code runs, unless one asks for them by name.</summary>
    static IReadOnlyList<CodePort> TunableOf(string name, IReadOnlyList<string>? wanted, List<CodePort> own, IReadOnlySet<int> follows) =>
        wanted is null
            ? [.. own.Where(p => !follows.Contains(p.Variable.Index))]
            :
            [
                .. wanted.Select(w =>
                    own.Find(p => p.Name == w)
                    ?? throw new DeliveryException(
                        "tunable",
                        $"'{name}' has no parameter '{w}' that can be changed while it runs.",
                        own.Count == 0 ? "It has none." : $"It has {string.Join(", ", own.Select(p => p.Name))}."
                    )
                ),
            ];

    /// <summary>The start that a solver finds, with the inputs at nought.</summary>
    static double[] Found(PreparedModel prepared, ExecutionPlan plan)
    {
        using var simulator = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), new RunOptions { End = 1 });
        var values = simulator.ValuesAtStart();
        return [.. plan.States.Select(s => s < values.Length ? values[s] : 0)];
    }

    static void RefusePhysical(string name, IEnumerable<PortDescription> ports)
    {
        if (ports.FirstOrDefault(p => p.Domain is not null) is { } physical)
            throw new DeliveryException(
                "physical",
                $"'{name}' has the physical port '{physical.Name}', which needs the network around it.",
                "Deliver the controller without its plant: a part whose inputs and outputs are signals."
            );
    }

    static void Refuse(string name, ExecutionPlan plan)
    {
        if (plan.Model.Delays.Count > 0)
            throw new DeliveryException(
                "delay",
                $"{Where(plan.Model.Delays[0].Owner)}a continuous delay does not run in steps.",
                "Take a unit delay, or several in a row."
            );
        if (plan.Blocks.OfType<LoopBlock>().FirstOrDefault(l => l.IsSparse) is { } loop)
            throw new DeliveryException(
                "loop",
                $"{Where(loop.Owner)}an algebraic loop of {loop.Torn.Length} unknowns is too large for a step of bounded length.",
                "Deliver the controller without its plant, or break the loop by a lag."
            );
        if (plan.Reinits.FirstOrDefault(r => plan.StateSlot[r.State] < 0) is { } reinit)
            throw new DeliveryException(
                "reinit",
                $"{Where(reinit.Owner)}a state that follows from others is set anew.",
                "Set the states themselves."
            );
    }

    /// <summary>Functions that only exist here.</summary>
    void RefuseCalls()
    {
        foreach (var block in Plan.Blocks)
        foreach (var term in block.Terms)
            if (CallIn(term) is { } call)
                throw new DeliveryException(
                    "function",
                    $"{Where(block.Owner)}'{call.Function.Name}' has no C code.",
                    "Replace it by a table of its values."
                );
    }

    static CallTerm? CallIn(Term term)
    {
        if (term is CallTerm call)
            return call;
        foreach (var operand in term.Operands)
            if (CallIn(operand) is { } found)
                return found;
        return null;
    }
}
