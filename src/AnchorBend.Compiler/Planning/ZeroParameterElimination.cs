using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Planning;

/// <summary>
/// Products with a parameter that is zero vanish, and of a choice by a Boolean parameter one branch stays. What is left tells what depends
/// on what: a transfer function whose direct term is zero closes no algebraic loop. Plans are made anew when a parameter becomes or ceases
/// to be zero.
/// </summary>
sealed class ZeroParameterElimination
{
    readonly FlatModel model;
    readonly double[] values;

    ZeroParameterElimination(FlatModel model) => (this.model, values) = (model, model.ParameterValues());

    public static void Run(FlatModel model, List<(Term Left, Term Right, string Owner, Position At)> equations)
    {
        var pass = new ZeroParameterElimination(model);
        Func<Term, Term> decided = pass.Decided;
        Func<Term, bool> isZero = pass.IsZero;
        var before = new List<(int Equation, Term Left, Term Right)>();
        for (var e = 0; e < equations.Count; e++)
        {
            var (left, right, owner, at) = equations[e];
            var (newLeft, newRight) = (TermBuilder.Rewrite(left, decided, isZero), TermBuilder.Rewrite(right, decided, isZero));
            if (ReferenceEquals(left, newLeft) && ReferenceEquals(right, newRight))
                continue;
            before.Add((e, left, right));
            equations[e] = (newLeft, newRight, owner, at);
        }

        if (before.Count > 0)
            pass.KeepNeeded(equations, before);
    }

    bool IsParameter(int index) => model.Variables[index].Role == VariableRole.Parameter;

    bool IsZero(Term term) => term is VariableTerm v && IsParameter(v.Index) && values[v.Index] == 0 && !model.Variables[v.Index].IsPlayed;

    Term Decided(Term leaf) =>
        leaf is VariableTerm v && IsParameter(v.Index) && model.Variables[v.Index] is { Type: ScalarType.Boolean, IsPlayed: false }
            ? Term.Of(values[v.Index])
            : leaf;

    /// <summary>
    /// An equation that would tell nothing any more stays as it was, and so does one that alone tells a derivative: a mass of zero is a
    /// mistake that the run tells by its name.
    /// </summary>
    void KeepNeeded(List<(Term Left, Term Right, string Owner, Position At)> equations, List<(int Equation, Term Left, Term Right)> before)
    {
        var told = new bool[model.Variables.Count];
        foreach (var (left, right, _, _) in equations)
            VisitUnknowns(left, right, i => told[i] = true);
        foreach (var (e, left, right) in before)
        {
            var (count, isNeeded) = (0, false);
            VisitUnknowns(equations[e].Left, equations[e].Right, _ => count++);
            VisitUnknowns(left, right, i => isNeeded |= model.Variables[i].DerivativeOf >= 0 && !told[i]);
            if (count == 0 || isNeeded)
                equations[e] = (left, right, equations[e].Owner, equations[e].At);
        }
    }

    void VisitUnknowns(Term left, Term right, Action<int> visit)
    {
        void Visit(int index)
        {
            if (model.Variables[index].Role is VariableRole.Continuous or VariableRole.Discrete)
                visit(index);
        }

        TermBuilder.VisitVariables(left, Visit);
        TermBuilder.VisitVariables(right, Visit);
    }
}
