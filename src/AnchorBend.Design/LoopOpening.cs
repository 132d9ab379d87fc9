using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Design;

/// <summary>Adds a small input at one signal and cuts others, in a copy of the flat model.</summary>
static class LoopOpening
{
    const string InputName = "$input";

    public static FlatModel Insert(FlatModel model, FlatVariable from, IReadOnlyList<FlatVariable> open, out int input)
    {
        var copy = new FlatModel { Name = model.Name };
        copy.Variables.AddRange(model.Variables);
        copy.Clocks.AddRange(model.Clocks);
        copy.Delays.AddRange(model.Delays);
        copy.Tables.UnionWith(model.Tables);
        var added = new FlatVariable(copy.Variables.Count, InputName, VariableRole.External, Language.Binding.ScalarType.Real);
        copy.Variables.Add(added);
        input = added.Index;
        var inputTerm = new VariableTerm(input);
        var equations = model.Equations.ToList();
        foreach (var cut in open)
        {
            var held = new FlatVariable(copy.Variables.Count, "$open " + cut.Name, VariableRole.External, Language.Binding.ScalarType.Real);
            copy.Variables.Add(held);
            Term instead =
                cut.Index == from.Index ? TermBuilder.Add(new VariableTerm(held.Index), inputTerm) : new VariableTerm(held.Index);
            equations = Replace(copy, equations, cut, instead);
        }

        if (open.All(cut => cut.Index != from.Index))
            equations = Replace(copy, equations, from, TermBuilder.Add(new VariableTerm(from.Index), inputTerm));
        copy.Equations.AddRange(equations);
        return copy;
    }

    public static double ValueOf(FlatVariable variable, FlatModel model, double[] values) =>
        variable.Name.StartsWith("$open ", StringComparison.Ordinal) ? values[model.Find(variable.Name["$open ".Length..])!.Index] : 0;

    /// <summary>
    /// Puts another term in the place of a signal wherever it is used. The output of a part keeps its own value inside the part; any
    /// other variable keeps it in the one equation that gives it.
    /// </summary>
    internal static List<FlatEquation> Replace(FlatModel copy, List<FlatEquation> equations, FlatVariable signal, Term instead)
    {
        var isOutput = signal.Causality == Causality.Output && signal.Owner.Length > 0;
        var defining = isOutput
            ? -1
            : equations.FindIndex(e => Gives(e.Left, e.Right, signal.Index) || Gives(e.Right, e.Left, signal.Index));
        if (!isOutput && defining < 0 && signal.Derivative < 0)
            throw new DesignException(
                "open",
                $"No single equation gives '{signal.Name}', so nothing can be added or cut there.",
                "Choose a signal that is the output of a part."
            );
        Term Put(Term term) => TermBuilder.Rewrite(term, leaf => leaf is VariableTerm v && v.Index == signal.Index ? instead : leaf);
        List<FlatEquation> added = [];
        for (var d = 0; d < copy.Delays.Count; d++)
        {
            if (copy.Delays[d].Source != signal.Index || (isOutput && copy.Delays[d].Owner == signal.Owner))
                continue;
            var source = new FlatVariable(copy.Variables.Count, "$delayed", VariableRole.Continuous, Language.Binding.ScalarType.Real);
            copy.Variables.Add(source);
            copy.Delays[d] = copy.Delays[d] with { Source = source.Index };
            added.Add(new FlatEquation(new VariableTerm(source.Index), instead, copy.Delays[d].Owner, copy.Delays[d].At));
        }

        return
        [
            .. added,
            .. equations.Select(
                (e, i) => i == defining || (isOutput && e.Owner == signal.Owner) ? e : e with { Left = Put(e.Left), Right = Put(e.Right) }
            ),
        ];
    }

    static bool Gives(Term side, Term other, int variable) =>
        side is VariableTerm v && v.Index == variable && !TermBuilder.Any(other, t => t is VariableTerm o && o.Index == variable);
}
