using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Planning;

/// <summary>Variables that an equation <c>a = b</c> makes equal share one place; most equations of a diagram are of this kind.</summary>
public static class AliasElimination
{
    /// <summary>Rank of states and derivatives, which have places of their own.</summary>
    const int Fixed = 7;

    /// <summary>Lowest rank of what is held between events. A derivative cannot stand for it: nothing would hold its value.</summary>
    const int Discrete = 3;

    /// <param name="remaining">Receives the equations that are left, in terms of representatives.</param>
    /// <returns>The representative of each variable.</returns>
    internal static int[] Run(FlatModel model, List<(Term Left, Term Right, string Owner, Position At)> remaining)
    {
        var parent = new int[model.Variables.Count];
        for (var i = 0; i < parent.Length; i++)
            parent[i] = i;
        int Root(int i)
        {
            while (parent[i] != i)
                i = parent[i] = parent[parent[i]];
            return i;
        }

        // Among equals an output stands for its wire: messages then name the part where a value comes from. What is held between events
        // begins with a start value, which must not be lost.
        int Rank(int i) =>
            model.Variables[i] switch
            {
                { Derivative: >= 0 } or { DerivativeOf: >= 0 } => Fixed,
                { Role: VariableRole.Discrete, Start: not null } v => Discrete + (v.Causality == Causality.Output ? 3 : 2),
                { Role: VariableRole.Discrete, Causality: Causality.Output } => Discrete + 1,
                { Role: VariableRole.Discrete } => Discrete,
                { Causality: Causality.Output } => 2,
                _ => 1,
            };
        static bool Unknown(FlatVariable v) => v.Role is VariableRole.Continuous or VariableRole.Discrete;
        var kept = new List<FlatEquation>();
        foreach (var equation in model.Equations)
        {
            if (
                equation.Left is VariableTerm a
                && equation.Right is VariableTerm b
                && Unknown(model.Variables[a.Index])
                && Unknown(model.Variables[b.Index])
            )
            {
                var (ra, rb) = (Root(a.Index), Root(b.Index));
                var (ka, kb) = (Rank(ra), Rank(rb));
                if (ra != rb && Math.Min(ka, kb) < (Math.Max(ka, kb) == Fixed ? Discrete : Fixed))
                {
                    if (ka > kb || (ka == kb && ra > rb))
                        parent[rb] = ra;
                    else
                        parent[ra] = rb;
                    continue;
                }
            }

            kept.Add(equation);
        }

        for (var i = 0; i < parent.Length; i++)
            parent[i] = Root(i);
        foreach (var e in kept)
            remaining.Add((Represent(e.Left, parent), Represent(e.Right, parent), e.Owner, e.At));
        return parent;
    }

    /// <summary>A term in representatives.</summary>
    public static Term Represent(Term term, int[] representative) => TermBuilder.Rewrite(term, leaf => leaf switch
            {
                VariableTerm v when representative[v.Index] != v.Index => new VariableTerm(representative[v.Index]),
                PreviousTerm p when representative[p.Index] != p.Index => new PreviousTerm(representative[p.Index]),
                _ => leaf,
            });
}
