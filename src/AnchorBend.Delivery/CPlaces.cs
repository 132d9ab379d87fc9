using System.Globalization;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Delivery;

/// <summary>What a place of the lowered program is called in C, and what it is there.</summary>
sealed class CPlaces
{
    readonly CodeUnit unit;
    readonly MemoryLayout layout;
    readonly string[] names;
    readonly bool[] dependsOnTunable;
    readonly Dictionary<int, string> inputs = [],
        tunable = [],
        constants = [],
        ticks = [];

    public CPlaces(CodeUnit unit)
    {
        this.unit = unit;
        layout = unit.Program.Layout;
        var free = new CNames();
        var model = unit.Model;
        var (given, computed, changed) = (CNames.OfMembers(), CNames.OfMembers(), CNames.OfMembers());
        foreach (var input in unit.Inputs)
            inputs[input.Variable.Index] = given.Free(CNames.Plain(input.Name));
        Outputs = [.. unit.Outputs.Select(o => (computed.Free(CNames.Plain(o.Name)), o))];
        foreach (var parameter in unit.Tunable)
            tunable[parameter.Variable.Index] = changed.Free(CNames.Plain(parameter.Name));
        dependsOnTunable = DependsOnTunable(model);
        // What people see keeps its name; the rest gets what is left.
        var output = new Dictionary<int, string>();
        foreach (var (name, port) in Outputs)
            output.TryAdd(unit.Plan.Representative[port.Variable.Index], free.Free(name));
        names = new string[layout.Size];
        var best = Best(model);
        foreach (var variable in model.Variables.Where(v => unit.Plan.Representative[v.Index] == v.Index))
            if (variable.Role is VariableRole.Continuous or VariableRole.Discrete)
                names[variable.Index] = output.TryGetValue(variable.Index, out var own)
                    ? own
                    : free.Free(CNames.Plain(CodeUnit.PathWithin(best[variable.Index])));
        // Derivatives that index reduction has added stand behind all others.
        for (var i = 0; i < layout.Size; i++)
            names[i] ??=
                i < layout.PreviousBase ? free.Free("w")
                : i < layout.RelationBase ? free.Free(names[unit.Plan.Discretes[i - layout.PreviousBase]] + "_before")
                : i < layout.AbscissaBase ? free.Free($"rel_{i - layout.RelationBase + 1}")
                : free.Free($"held_{i - layout.AbscissaBase + 1}");
        for (var c = 0; c < unit.Clocks.Count; c++)
            ticks[unit.Clocks[c].Flag] = free.Free($"tick_{c + 1}");
        Free = free;
    }

    public CNames Free { get; }

    public IReadOnlyList<(string Name, CodePort Port)> Outputs { get; }

    public IEnumerable<(string Name, CodePort Port)> Inputs => unit.Inputs.Select(i => (inputs[i.Variable.Index], i));

    public IEnumerable<(string Name, CodePort Port)> Tunable => unit.Tunable.Select(t => (tunable[t.Variable.Index], t));

    public string TickOf(int clock) => ticks[unit.Clocks[clock].Flag];

    readonly Dictionary<int, (string Name, int Count)> tables = [];

    /// <summary>Tables that were read, by their places, with their sizes.</summary>
    public IReadOnlyDictionary<int, (string Name, int Count)> Tables => tables;

    public string TableAt(int place, int count)
    {
        if (!tables.TryGetValue(place, out var table))
            tables[place] = table = (Free.Free($"table_{tables.Count + 1}"), count);
        return table.Name;
    }

    /// <summary>Constants that were asked for, in that order.</summary>
    public List<(string Name, FlatVariable Parameter, double Value)> Constants { get; } = [];

    /// <summary>Of all variables that share a place, the name that says most: an output's, and of those the shortest.</summary>
    Dictionary<int, string> Best(FlatModel model)
    {
        var best = new Dictionary<int, (int Rank, string Name)>();
        foreach (var v in model.Variables)
        {
            if (v.Name.Length == 0)
                continue;
            var place = unit.Plan.Representative[v.Index];
            var rank =
                v.Causality == Causality.Output ? 0
                : v.Causality == Causality.None ? 1
                : 2;
            if (!best.TryGetValue(place, out var known) || rank < known.Rank)
                best[place] = (rank, v.Name);
        }

        return best.ToDictionary(b => b.Key, b => b.Value.Name);
    }

    bool[] DependsOnTunable(FlatModel model)
    {
        var result = new bool[model.Variables.Count];
        bool In(Term term) => term is VariableTerm v ? v.Index >= 0 && result[v.Index] : term.Operands.ToArray().Any(In);
        foreach (var v in model.Variables.Where(v => v.Role == VariableRole.Parameter))
            result[v.Index] = tunable.ContainsKey(v.Index) || v.Binding is { } binding && In(binding);
        return result;
    }

    public bool IsParameter(int place) => place < layout.PreviousBase && Variable(place)?.Role == VariableRole.Parameter;

    public bool IsInput(int place) => inputs.ContainsKey(place);

    public bool IsTick(int place) => ticks.ContainsKey(place);

    /// <summary>Whether something else than the code's own steps gives its value.</summary>
    public bool IsGiven(int place) => IsParameter(place) || IsInput(place) || IsTick(place) || place == FlatModel.TimeIndex;

    FlatVariable? Variable(int place) => place < unit.Model.Variables.Count ? unit.Model.Variables[place] : null;

    public bool IsBoolean(int place) =>
        place >= layout.RelationBase && place < layout.AbscissaBase
        || place == FlatModel.InitialFlagIndex
        || IsTick(place)
        || place >= layout.PreviousBase && place < layout.RelationBase && IsBoolean(unit.Plan.Discretes[place - layout.PreviousBase])
        || Variable(place)?.Type == ScalarType.Boolean;

    /// <summary>Without what leads to it.</summary>
    public string NameOf(int place) =>
        inputs.TryGetValue(place, out var input) ? input
        : ticks.TryGetValue(place, out var tick) ? tick
        : place == FlatModel.InitialFlagIndex ? "initial"
        : names[place];

    /// <summary>The number of a parameter that nothing changes; null where something does.</summary>
    public double? Number(int place) => IsParameter(place) && !dependsOnTunable[place] ? unit.Parameters.Values[place] : null;

    /// <summary>How a parameter is read.</summary>
    /// <param name="derive">The name of a field for a parameter that others lead to.</param>
    public string Parameter(int place, Func<Term, string> print, Func<FlatVariable, string> derive)
    {
        if (tunable.TryGetValue(place, out var own))
            return "p->" + own;
        var variable = Variable(place)!;
        if (dependsOnTunable[place] && !IsSmall(variable.Binding!))
            return "s->" + derive(variable);
        if (dependsOnTunable[place])
            return
                print(variable.Binding!) is var text
                && text.All(c => char.IsAsciiLetterOrDigit(c) || c is '_' or '-' or '>')
                && text[0] != '-'
                ? text
                : $"({text})";
        if (variable.Type != ScalarType.Real)
            return "";
        if (!constants.TryGetValue(place, out var name))
        {
            constants[place] = name = Free.Free(CNames.Plain(CodeUnit.PathWithin(variable.Name)));
            Constants.Add((name, variable, unit.Parameters.Values[place]));
        }

        return name;
    }

    /// <summary>Whether computing it where it is read costs no more than reading it.</summary>
    bool IsSmall(Term term)
    {
        var left = 3;
        bool Fits(Term t) =>
            t switch
            {
                ConstantTerm => true,
                VariableTerm v when !tunable.ContainsKey(v.Index) && dependsOnTunable[v.Index] => Fits(Variable(v.Index)!.Binding!),
                VariableTerm => true,
                OperationTerm { Kind: Operator.Add or Operator.Subtract or Operator.Multiply or Operator.Divide or Operator.Negate } =>
                    --left >= 0 && t.Operands.ToArray().All(Fits),
                _ => false,
            };
        return Fits(term);
    }

    public static string Literal(double value, bool isFloat)
    {
        if (double.IsNaN(value))
            return "NAN";
        if (double.IsInfinity(value) || isFloat && float.IsInfinity((float)value))
            return value > 0 ? "INFINITY" : "(-INFINITY)";
        var text = isFloat ? ((float)value).ToString("R", CultureInfo.InvariantCulture) : value.ToString("R", CultureInfo.InvariantCulture);
        text = text.Replace("E+", "e", StringComparison.Ordinal).Replace('E', 'e');
        if (!text.Contains('.') && !text.Contains('e'))
            text += ".0";
        if (isFloat)
            text += "F";
        return value < 0 ? $"({text})" : text;
    }
}
