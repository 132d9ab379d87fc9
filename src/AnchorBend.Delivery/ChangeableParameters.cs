using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Delivery;

/// <summary>
/// Parameters of a unit that can be changed while it runs. Tables, sample times and what takes long to compute are written into the code
/// as numbers, so what they come from stays as it is.
/// </summary>
static class ChangeableParameters
{
    /// <summary>Operations that may be spent in a step on a parameter that follows from others.</summary>
    const int MostFollowing = 100;

    static HashSet<Term> Once() => new(ReferenceEqualityComparer.Instance);

    static bool IsHeavy(FlatModel model, Term binding)
    {
        var left = MostFollowing;
        var seen = new HashSet<int>();
        bool Fits(Term term) =>
            (
                term is VariableTerm v
                    ? v.Index < 0 || !seen.Add(v.Index) || model.Variables[v.Index].Binding is not { } next || Fits(next)
                    : --left >= 0
            ) && term.Operands.ToArray().All(Fits);
        return !Fits(binding);
    }

    /// <param name="isOwn">Whether a variable is one of the unit itself.</param>
    /// <returns>Those that can be changed, and which of these follow from others as the model has it.</returns>
    public static (List<CodePort> Own, IReadOnlySet<int> Follow) Of(FlatModel model, ExecutionPlan plan, Func<FlatVariable, bool> isOwn)
    {
        var settled = new HashSet<int>();
        // Terms share what is in them, so each is looked at once.
        var (settledTerms, visited) = (Once(), Once());
        void Settle(Term term)
        {
            if (!settledTerms.Add(term))
                return;
            if (term is VariableTerm v && v.Index >= 0 && settled.Add(v.Index) && model.Variables[v.Index].Binding is { } binding)
                Settle(binding);
            foreach (var operand in term.Operands)
                Settle(operand);
        }

        void Visit(Term term)
        {
            if (!visited.Add(term))
                return;
            if (term is TableTerm table)
                foreach (var number in (Term[])[.. table.Knots, .. table.Values])
                    Settle(number);
            foreach (var operand in term.Operands)
                Visit(operand);
        }

        foreach (var term in plan.Blocks.SelectMany(b => b.Terms).Concat(plan.Reinits.SelectMany(r => new[] { r.Condition, r.Value })))
            Visit(term);
        foreach (var parameter in model.Variables.Where(v => v is { Role: VariableRole.Parameter, Binding: not null }))
        {
            Visit(parameter.Binding!);
            if (IsHeavy(model, parameter.Binding!))
                Settle(parameter.Binding!);
        }

        foreach (var clock in model.Clocks)
        {
            Settle(clock.Start);
            Settle(clock.Interval);
        }

        var own = model
            .Variables.Where(v =>
                v is { Role: VariableRole.Parameter, IsProtected: false, IsStructural: false, Type: ScalarType.Real }
                && isOwn(v)
                && !settled.Contains(v.Index)
            )
            .ToList();
        // What only the levels above give is changed here as any other number.
        var known = own.Select(v => v.Index).ToHashSet();
        bool Reads(Term term) =>
            term is VariableTerm v
                ? known.Contains(v.Index) || v.Index >= 0 && model.Variables[v.Index].Binding is { } next && Reads(next)
                : term.Operands.ToArray().Any(Reads);
        var follow = own.Where(v => v.Binding is { } binding && !IsHeavy(model, binding) && Reads(binding));
        return ([.. own.Select(v => new CodePort(CodeUnit.PathWithin(v.Name), v))], follow.Select(v => v.Index).ToHashSet());
    }
}
