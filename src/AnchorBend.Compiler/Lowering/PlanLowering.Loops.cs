using AnchorBend.Compiler.Planning;
using AnchorBend.Language;
using AnchorBend.Language.Terms;
using AnchorBend.Numerics.Linear;

namespace AnchorBend.Compiler.Lowering;

/// <summary>Algebraic loops: their residuals and the derivatives of these.</summary>
sealed partial class PlanLowering
{
    LoweredLoop Loop(LoopBlock loop)
    {
        if (!loop.IsSparse)
            return new LoweredLoop(
                [new RoutineStretch(Vector(plan, layout, "residuals", loop.Residuals, loop.Inner), 0)],
                [new RoutineStretch(Jacobian(loop), 0)],
                null
            );
        var budget = WorkBudget.Current;
        var column = new Dictionary<int, int>();
        for (var i = 0; i < loop.Torn.Length; i++)
            column[loop.Torn[i]] = i;
        var entries = new SortedDictionary<(int Column, int Row), Term>();
        for (var row = 0; row < loop.Residuals.Length; row++)
        {
            var members = new SortedSet<int>();
            TermBuilder.VisitVariables(loop.Residuals[row], v =>
            {
                if (column.ContainsKey(v))
                    members.Add(v);
            });
            budget.Check();
            var partials = new PartialDerivatives(loop.Residuals[row]);
            foreach (var member in members)
            {
                var slope = partials.Along(member);
                if (slope.IsConstant(0))
                    continue;
                budget.Operations(Weight(slope), loop.Owners[0]);
                entries[(column[member], row)] = slope;
            }
        }

        var starts = new int[loop.Torn.Length + 1];
        foreach (var (c, _) in entries.Keys)
            starts[c + 1]++;
        for (var c = 0; c < loop.Torn.Length; c++)
            starts[c + 1] += starts[c];
        return new LoweredLoop(
            Stretches(loop.Residuals),
            Stretches([.. entries.Values]),
            new SparsePattern(loop.Residuals.Length, starts, [.. entries.Keys.Select(k => k.Row)])
        );
    }

    /// <summary>Terms in routines of limited size.</summary>
    RoutineStretch[] Stretches(Term[] terms) =>
        [.. Cut(terms).Select(c => new RoutineStretch(Vector(plan, layout, "stretch", terms[c.From..c.To], []), c.From))];

    /// <summary>The derivative of each residual along each torn variable, through the inner assignments by the chain rule.</summary>
    Routine Jacobian(LoopBlock loop)
    {
        var n = loop.Torn.Length;
        // Slopes of inner variables are values of their own, at places that no variable of the model has.
        var (next, slopesOfInner, entries) = (-1, new List<(int Place, Term Value)>(), new List<(int Before, int Place, Term Value)>());
        var budget = WorkBudget.Current;
        for (var column = 0; column < n; column++)
        {
            budget.Check();
            var slopes = new Dictionary<int, Term> { [loop.Torn[column]] = Term.One };
            Term Seed(Term leaf) => leaf is VariableTerm v && slopes.TryGetValue(v.Index, out var slope) ? slope : Term.Zero;
            foreach (var inner in loop.Inner)
            {
                var derivative = TermDerivative.Of(inner.Value, Seed);
                if (derivative.IsConstant(0))
                    continue;
                if (derivative is ConstantTerm)
                {
                    slopes[inner.Variable] = derivative;
                    continue;
                }

                budget.Operations(Weight(derivative), loop.Owners[0]);
                slopesOfInner.Add((next, derivative));
                slopes[inner.Variable] = new VariableTerm(next--);
            }

            for (var row = 0; row < n; row++)
            {
                var slope = TermDerivative.Of(loop.Residuals[row], Seed);
                budget.Operations(Weight(slope), loop.Owners[0]);
                entries.Add((slopesOfInner.Count, row * n + column, slope));
            }
        }

        var shared = new CommonSubexpressions(CommonSubexpressions.Cheap);
        foreach (var (_, value) in slopesOfInner)
            shared.Add(value);
        foreach (var (_, _, value) in entries)
            shared.Add(value);
        var terms = new TermLowering(plan, layout, shared);
        var body = new List<Statement>();
        var made = 0;
        foreach (var (before, place, value) in entries)
        {
            for (; made < before; made++)
            {
                var slope = terms.Value(slopesOfInner[made].Value);
                var local = terms.NewLocal();
                body.Add(new LocalStatement(local, slope));
                terms.Keep(slopesOfInner[made].Place, local);
            }

            body.Add(new ResultStatement(place, terms.Value(value)));
        }

        return new Routine("jacobian", body, terms.Locals, true);
    }
}
