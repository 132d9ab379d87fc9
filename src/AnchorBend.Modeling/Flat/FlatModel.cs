using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Language.Units;
using AnchorBend.Media;

namespace AnchorBend.Modeling.Flat;

/// <summary>What determines a variable.</summary>
public enum VariableRole
{
    /// <summary>Independent variable or a flag that the run sets: time, the initial flag, sample flags.</summary>
    External,

    /// <summary>Fixed during a run, by a binding or a value.</summary>
    Parameter,

    /// <summary>An unknown that changes between events.</summary>
    Continuous,

    /// <summary>An unknown that changes at events only.</summary>
    Discrete,
}

/// <summary>A scalar variable of the flat model; <see cref="Name"/> is its path from the top.</summary>
public sealed class FlatVariable(int index, string name, VariableRole role, ScalarType type)
{
    public int Index { get; } = index;

    public string Name { get; } = name;

    public VariableRole Role { get; internal set; } = role;

    public ScalarType Type { get; } = type;

    /// <summary>Declared unit; null where none is declared (it may be inferred).</summary>
    public Unit? Unit { get; internal set; }

    /// <summary>Whether the declaration states the unit; otherwise it came with the value or a connection.</summary>
    public bool DeclaresUnit { get; internal set; }

    public string? DisplayUnit { get; internal set; }

    public string? Description { get; init; }

    /// <summary>Path of the part that declares the variable; empty for the model itself.</summary>
    public string Owner { get; init; } = "";

    public Position At { get; init; }

    public bool IsProtected { get; init; }

    public Causality Causality { get; init; }

    /// <summary>The value of a parameter, over parameters declared before it.</summary>
    public Term? Binding { get; internal set; }

    public Term? Start { get; internal set; }

    /// <summary>Whether the start value must hold; otherwise it is a guess, or holds where nothing else determines the start.</summary>
    public bool IsFixed { get; internal set; }

    /// <summary>
    /// Whether a part fixes the start at a parameter of its own that nobody has set: it holds unless a start value that someone gave, or
    /// the wish to begin at rest, says otherwise.
    /// </summary>
    public bool IsFixedByDefault { get; internal set; }

    /// <summary>Whether such a start depends on this parameter being left alone.</summary>
    public bool DecidesDefaultStart { get; internal set; }

    /// <summary>The modeller's wish whether this becomes a state.</summary>
    public StateSelection Selection { get; internal set; }

    public Term? Minimum { get; internal set; }

    public Term? Maximum { get; internal set; }

    public Term? Nominal { get; internal set; }

    /// <summary>Whether the structure of the model depends on this parameter, so that a change needs a new elaboration.</summary>
    public bool IsStructural { get; internal set; }

    /// <summary>Whether it is a value of a source, which people set by hand while a run goes on: plans count on nothing about it, such as
    /// that it is zero.</summary>
    public bool IsPlayed { get; internal set; }

    /// <summary>Whether it is set from outside and changes between events too, as time does.</summary>
    public bool IsFlowing { get; internal set; }

    /// <summary>Index of this variable's derivative; −1 for none. A variable with a derivative is a state.</summary>
    public int Derivative { get; internal set; } = -1;

    /// <summary>Index of the state whose derivative this is; −1 for none.</summary>
    public int DerivativeOf { get; internal set; } = -1;

    public IReadOnlyList<(string Name, string? Description)>? Choices { get; init; }

    public override string ToString() => Name;

    /// <summary>A parameter of a model that is made from another one, which may be set at any time of a run.</summary>
    public static FlatVariable Played(int index, string name, double value) =>
        new(index, name, VariableRole.Parameter, ScalarType.Real) { IsPlayed = true, Binding = new ConstantTerm(value) };

    internal FlatVariable Copy() => (FlatVariable)MemberwiseClone();
}

/// <summary>The attribute stateSelect (Modelica Language Specification 3.6, section 4.5).</summary>
public enum StateSelection
{
    Default,
    Never,
    Avoid,
    Prefer,
    Always,
}

/// <summary>Left equals right, at all times or (for discrete variables) at events.</summary>
public sealed record FlatEquation(Term Left, Term Right, string Owner, Position At);

/// <summary>When <see cref="Condition"/> becomes true, <see cref="State"/> takes <see cref="Value"/>.</summary>
public sealed record FlatReinit(Term Condition, int State, Term Value, string Owner, Position At);

/// <summary>A member of a bundle.</summary>
/// <param name="Path">Its name, after those of the bundles around it.</param>
/// <param name="Kind">real, boolean, vector or bundle.</param>
/// <param name="Type">The name of its type, where it is a bundle that has one.</param>
public sealed record BundleMember(string Path, string Kind, string? Type = null);

/// <summary>A clock that sets <see cref="Flag"/> at start, start + interval, ….</summary>
public sealed record SampleClock(int Flag, Term Start, Term Interval, string Owner, Position At);

/// <summary>Delay <see cref="Source"/> by <see cref="Duration"/> (a term of parameters) seconds.</summary>
/// <param name="Varying">The variable that holds the delay time, which <paramref name="Duration"/> limits then; −1 where it is
/// constant.</param>
public sealed record DelayLine(int Source, Term Duration, int Varying, string Owner, Position At);

/// <summary>A condition that must hold; a violation stops the run (error) or is told (warning).</summary>
public sealed record FlatAssertion(Term Condition, string Message, bool IsError, string Owner, Position At);

/// <summary>Variables and equations of a whole model, arrays expanded, connections made.</summary>
public sealed class FlatModel
{
    public const int TimeIndex = 0;
    public const int InitialFlagIndex = 1;

    public FlatModel() =>
        (Variables, Equations, Reinits, Clocks, Delays, Assertions, InitialEquations, Aliases) = ([], [], [], [], [], [], [], []);

    FlatModel(FlatModel shared)
    {
        Variables = [.. shared.Variables];
        (Equations, Reinits, Clocks, Delays, Assertions) = (
            shared.Equations,
            shared.Reinits,
            shared.Clocks,
            shared.Delays,
            shared.Assertions
        );
        (InitialEquations, Aliases, byName, Bundles) = (shared.InitialEquations, shared.Aliases, shared.byName, shared.Bundles);
        (LeftOut, Words, Tables) = (shared.LeftOut, shared.Words, shared.Tables);
    }

    public required string Name { get; init; }

    public List<FlatVariable> Variables { get; }

    public List<FlatEquation> Equations { get; }

    public List<FlatReinit> Reinits { get; }

    public List<SampleClock> Clocks { get; }

    public List<DelayLine> Delays { get; }

    public List<FlatAssertion> Assertions { get; }

    /// <summary>Equations that hold at the start only.</summary>
    public List<FlatEquation> InitialEquations { get; }

    /// <summary>Other names for variables: named signals, and array elements that a connection joined.</summary>
    public Dictionary<string, int> Aliases { get; }

    /// <summary>What each bundle holds, by its path.</summary>
    public Dictionary<string, IReadOnlyList<BundleMember>> Bundles { get; } = [];

    /// <summary>Paths of the parts that a condition leaves out; nothing of what is in them is in the model.</summary>
    public HashSet<string> LeftOut { get; } = [];

    /// <summary>Parameters that are words, by path: what they say is known before the run.</summary>
    public Dictionary<string, string> Words { get; } = [];

    /// <summary>Tables of fluids that equations call by number: held here, they are at hand for as long as the model is.</summary>
    public HashSet<TableMedium> Tables { get; } = [];

    /// <summary>Whether a part, or one that it is in, is left out.</summary>
    public bool IsLeftOut(string path)
    {
        if (LeftOut.Count == 0)
            return false;
        for (var at = path; at.Length > 0; at = at[..Math.Max(0, at.LastIndexOf('.'))])
            if (LeftOut.Contains(at))
                return true;
        return false;
    }

    Dictionary<string, int>? byName;

    /// <summary>The variable of a name or alias; null when there is none.</summary>
    public FlatVariable? Find(string name)
    {
        byName ??= Variables.Where(v => v.Name.Length > 0).DistinctBy(v => v.Name).ToDictionary(v => v.Name, v => v.Index);
        return byName.TryGetValue(name, out var index) || Aliases.TryGetValue(name, out index) ? Variables[index] : null;
    }

    /// <summary>The signals that a member of a bundle stands for: one, or the elements of a vector.</summary>
    public IEnumerable<(string Name, int Variable)> SignalsOf(string member)
    {
        if (Aliases.TryGetValue(member, out var one))
            yield return (member, one);
        for (var i = 1; Aliases.TryGetValue($"{member}[{i}]", out var element); i++)
            yield return ($"{member}[{i}]", element);
    }

    /// <summary>A variable by its name, or the elements of an array.</summary>
    public IEnumerable<(string Name, FlatVariable Variable)> AllOf(string name)
    {
        if (Find(name) is { } one)
            return [(name, one)];
        var elements = new List<(string, FlatVariable)>();
        while (Find($"{name}[{elements.Count + 1}]") is { } element)
            elements.Add(($"{name}[{elements.Count + 1}]", element));
        return elements;
    }

    /// <summary>A model with the same contents, to which variables can be added.</summary>
    public FlatModel Copy()
    {
        var copy = new FlatModel { Name = Name };
        foreach (var variable in Variables)
            copy.Variables.Add(variable.Copy());
        copy.Equations.AddRange(Equations);
        copy.InitialEquations.AddRange(InitialEquations);
        copy.Reinits.AddRange(Reinits);
        copy.Clocks.AddRange(Clocks);
        copy.Delays.AddRange(Delays);
        copy.Assertions.AddRange(Assertions);
        foreach (var (name, index) in Aliases)
            copy.Aliases[name] = index;
        foreach (var (path, members) in Bundles)
            copy.Bundles[path] = members;
        copy.LeftOut.UnionWith(LeftOut);
        copy.Tables.UnionWith(Tables);
        foreach (var (path, words) in Words)
            copy.Words[path] = words;
        return copy;
    }

    /// <summary>The same model in which variables that nothing but a value of their own gives are set from outside at any time.</summary>
    /// <param name="flow">Whether real ones change between events too; otherwise they are held from one event to the next.</param>
    public FlatModel WithInputs(IReadOnlySet<int> inputs, bool flow)
    {
        var copy = Copy();
        foreach (var input in inputs.Select(i => copy.Variables[i]))
            (input.Role, input.IsFlowing) = (VariableRole.External, flow && input.Type == ScalarType.Real);
        copy.Equations.RemoveAll(e => e.Left is VariableTerm v && inputs.Contains(v.Index));
        return copy;
    }

    /// <summary>The same model with other bindings of some parameters; everything else is shared with this one.</summary>
    public FlatModel WithBindings(IReadOnlyDictionary<int, Term> bindings)
    {
        var copy = new FlatModel(this) { Name = Name };
        foreach (var (index, binding) in bindings)
        {
            var variable = Variables[index].Copy();
            variable.Binding = binding;
            copy.Variables[index] = variable;
        }

        return copy;
    }

    /// <summary>The derivative of a continuous variable, made on first use.</summary>
    public FlatVariable DerivativeOf(int index)
    {
        var variable = Variables[index];
        if (variable.Derivative >= 0)
            return Variables[variable.Derivative];
        var derivative = new FlatVariable(Variables.Count, $"der({variable.Name})", VariableRole.Continuous, ScalarType.Real)
        {
            Owner = variable.Owner,
            At = variable.At,
            DerivativeOf = index,
        };
        Variables.Add(derivative);
        variable.Derivative = derivative.Index;
        return derivative;
    }

    public string NameOf(int index) => Variables[index].Name;

    /// <summary>Values of all parameters from their bindings; other entries are zero.</summary>
    /// <param name="overrides">Values by variable index that replace bindings.</param>
    public double[] ParameterValues(IReadOnlyDictionary<int, double>? overrides = null)
    {
        // Bindings do not change any more when somebody asks for values; who asks may change his copy.
        if (overrides is null && parameterValues is { } known && known.Length == Variables.Count)
            return (double[])known.Clone();
        var computed = ComputeParameterValues(overrides);
        if (overrides is null)
            parameterValues = (double[])computed.Clone();
        return computed;
    }

    double[]? parameterValues;

    double[] ComputeParameterValues(IReadOnlyDictionary<int, double>? overrides)
    {
        var values = new double[Variables.Count];
        var known = new bool[Variables.Count];
        TermEvaluator evaluator = null!;
        double ValueOf(int index)
        {
            // Most parameters stand before those that read them; what a connection brings may stand behind.
            var variable = Variables[index];
            if (known[index] || variable.Role != VariableRole.Parameter)
                return values[index];
            known[index] = true;
            return values[index] =
                overrides is not null && overrides.TryGetValue(index, out var value) ? value
                : variable.Binding is null ? 0
                : evaluator.Evaluate(variable.Binding);
        }

        evaluator = new TermEvaluator(ValueOf);
        foreach (var variable in Variables)
            ValueOf(variable.Index);
        return values;
    }
}
