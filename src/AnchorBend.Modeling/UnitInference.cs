using AnchorBend.Language.Terms;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling;

/// <summary>
/// Carries declared units through the equations to variables without one, and finds equations whose sides cannot agree.
/// A pure number may stand beside any unit in a sum, since most constants in equations are written without one.
/// </summary>
public sealed class UnitInference
{
    const int MaximumRounds = 12;

    readonly FlatModel model;
    readonly Dimension?[] known;
    readonly List<Finding> findings = [];
    bool changed;
    bool reporting;
    FlatEquation? current;

    UnitInference(FlatModel model)
    {
        this.model = model;
        known = new Dimension?[model.Variables.Count];
        foreach (var variable in model.Variables)
            known[variable.Index] = variable.Unit?.Dimension;
        // Equations without units often use time as a plain number, so it says nothing by itself.
        known[FlatModel.TimeIndex] = null;
    }

    /// <returns>The dimension of each variable as far as it is known, and the clashes.</returns>
    public static (Dimension?[] Dimensions, IReadOnlyList<Finding> Findings) Infer(FlatModel model)
    {
        var inference = new UnitInference(model);
        for (var round = 0; round < MaximumRounds; round++)
        {
            inference.changed = false;
            inference.Pass();
            if (!inference.changed)
                break;
        }

        inference.reporting = true;
        inference.Pass();
        return (inference.known, inference.findings);
    }

    /// <summary>The dimension of one more term over variables of the model, and of others behind them.</summary>
    /// <param name="known">Dimensions by index.</param>
    /// <returns>Null while it is not known, and the clash in it, if there is one.</returns>
    public static (Dimension? Dimension, string? Clash) Of(FlatModel model, IReadOnlyList<Dimension?> known, Term term)
    {
        var inference = new UnitInference(model, [.. known]) { reporting = true };
        var dimension = inference.Of(term);
        return (dimension, inference.findings.FirstOrDefault()?.Message);
    }

    UnitInference(FlatModel model, Dimension?[] known) => (this.model, this.known) = (model, known);

    void Pass()
    {
        foreach (var variable in model.Variables)
        {
            if (variable.Derivative < 0)
                continue;
            var second = Dimension.Base(2);
            if (reporting && known[variable.Index] is { } state && known[variable.Derivative] is { } rate && state / second != rate)
                Clash(state / second, rate, variable.Owner);
            if (known[variable.Index] is { } x)
                Learn(variable.Derivative, x / second);
            else if (known[variable.Derivative] is { } d)
                Learn(variable.Index, d * second);
        }

        foreach (var equation in model.Equations)
        {
            current = equation;
            var left = Of(equation.Left);
            var right = Of(equation.Right);
            if (left is { } l)
                Push(equation.Right, l);
            if (right is { } r)
                Push(equation.Left, r);
            if (
                !reporting
                || left is not { } a
                || right is not { } b
                || a == b
                || IsPlainNumber(equation.Left)
                || IsPlainNumber(equation.Right)
            )
                continue;
            if (equation is { Owner: "", Left: VariableTerm to, Right: VariableTerm from })
                ClashOf(model.Variables[from.Index], b, model.Variables[to.Index], a);
            else
                Clash(a, b, equation.Owner);
        }

        for (var i = 0; i < model.Delays.Count && !reporting; i++)
            delayDimensions[i] = known[model.Delays[i].Source];
    }

    readonly Dictionary<int, Dimension?> delayDimensions = [];

    /// <summary>A wire belongs to no part: what it joins is named, and the clash is shown where it leads to.</summary>
    void ClashOf(FlatVariable from, Dimension given, FlatVariable to, Dimension wanted) =>
        Clash($"The units do not agree: '{from.Name}' is {In(given)}, '{to.Name}' is {In(wanted)}.", to.Owner);

    void Clash(Dimension a, Dimension b, string owner) =>
        Clash($"The units do not agree: {Name(a)} on one side, {Name(b)} on the other.", owner);

    void Clash(string message, string owner)
    {
        if (findings.Count > 50 || findings.Any(f => f.Part == owner))
            return;
        findings.Add(
            new Finding(
                Severity.Warning,
                "unit-clash",
                message,
                owner,
                null,
                current?.At ?? default,
                "Check the units of the signals and parameters that meet here."
            )
        );
    }

    static string In(Dimension d) => d.IsNone ? "a plain number" : $"in {Unit.Pretty(UnitTable.Usual(d))}";

    static string Name(Dimension d) => d.IsNone ? "a plain number" : Unit.Pretty(UnitTable.Usual(d));

    void Learn(int variable, Dimension dimension)
    {
        if (known[variable] is not null)
            return;
        known[variable] = dimension;
        changed = true;
    }

    static bool IsPlainNumber(Term term) =>
        term is ConstantTerm
        || term is OperationTerm { Kind: Operator.Negate } n && IsPlainNumber(n.Left)
        || term is ConditionalTerm c && IsPlainNumber(c.Then) && IsPlainNumber(c.Otherwise);

    readonly Dictionary<ConditionalTerm, Term?> decided = new(ReferenceEqualityComparer.Instance);

    /// <summary>
    /// The branch that parameters decide on: where a part multiplies or divides by choice, the other branch has another dimension by right.
    /// </summary>
    Term? Decided(ConditionalTerm term)
    {
        if (decided.TryGetValue(term, out var known))
            return known;
        var branch =
            !IsKnown(term.Condition) ? null
            : new Flattening.StructuralValues(model).Evaluate(term.Condition) != 0 ? term.Then
            : term.Otherwise;
        return decided[term] = branch;
    }

    /// <summary>Whether a term is known before the run.</summary>
    bool IsKnown(Term term)
    {
        if (term is PreviousTerm or DelayTerm or SlotTerm or OperandTerm)
            return false;
        if (
            term is VariableTerm v
            && (v.Index >= model.Variables.Count || model.Variables[v.Index] is not { Role: VariableRole.Parameter, Binding: not null })
        )
            return false;
        foreach (var operand in term.Operands)
            if (!IsKnown(operand))
                return false;
        return true;
    }

    /// <summary>The dimension of a term; null while unknown.</summary>
    Dimension? Of(Term term)
    {
        switch (term)
        {
            case ConstantTerm c:
                return c.Value == 0 ? null : Dimension.None;
            case VariableTerm v:
                return known[v.Index];
            case PreviousTerm p:
                return known[p.Index];
            case DelayTerm d:
                return delayDimensions.GetValueOrDefault(d.Delay);
            case ConditionalTerm c when Decided(c) is { } branch:
                return Of(branch);
            case ConditionalTerm c:
                Of(c.Condition);
                return Alike(c.Then, c.Otherwise);
            case RelationTerm r:
                Alike(r.Left, r.Right);
                return Dimension.None;
            case OperationTerm o when o.Operands.Length == 2:
                return Two(o);
            case OperationTerm o:
                var inner = Of(o.Left);
                return o.Kind switch
                {
                    Operator.Negate or Operator.Absolute => inner,
                    Operator.SquareRoot => inner?.Root(),
                    _ => Dimension.None,
                };
            case SlotTerm s:
                return Outside(s) is { } variable ? Of(variable) : null;
            case OperandTerm a:
                return within is { } run ? Of(run.Operands[a.Number]) : null;
            case SequenceTerm q:
                var outer = within;
                within = q;
                Walk(q.Sequence.Steps);
                within = outer;
                return null;
            default:
                return null;
        }
    }

    Dimension? Two(OperationTerm o)
    {
        switch (o.Kind)
        {
            case Operator.Add or Operator.Subtract or Operator.Minimum or Operator.Maximum:
                return Alike(o.Left, o.Right);
            case Operator.Less
            or Operator.LessOrEqual
            or Operator.Greater
            or Operator.GreaterOrEqual
            or Operator.Equal
            or Operator.NotEqual:
                Alike(o.Left, o.Right);
                return Dimension.None;
            case Operator.And or Operator.Or:
                Of(o.Left);
                Of(o.Right);
                return Dimension.None;
        }

        var a = Of(o.Left);
        var b = Of(o.Right);
        return o.Kind switch
        {
            Operator.Multiply => a is { } x && b is { } y ? x * y : null,
            Operator.Divide => a is { } x && b is { } y ? x / y : null,
            Operator.Power => o.Right is ConstantTerm { Value: var n } && n == Math.Floor(n) && Math.Abs(n) < 50 ? a?.Power((int)n)
            : a is { IsNone: true } ? a
            : null,
            Operator.Atan2 => Dimension.None,
            _ => a,
        };
    }

    /// <summary>The term whose steps are looked at; null outside of any.</summary>
    SequenceTerm? within;

    /// <summary>The variable that a slot stands for; null where it stands for none.</summary>
    VariableTerm? Outside(SlotTerm slot) =>
        within is { } run && run.Sequence.Initial[slot.Slot] is >= 0 and var initial && run.Operands[initial] is PreviousTerm p
            ? new VariableTerm(p.Index)
            : null;

    void Walk(IReadOnlyList<Step> steps)
    {
        foreach (var step in steps)
            switch (step)
            {
                case SetStep set:
                    Alike(new SlotTerm(set.Slot), set.Value);
                    break;
                case ChoiceStep choice:
                    Of(choice.Condition);
                    Walk(choice.Then);
                    Walk(choice.Otherwise);
                    break;
            }
    }

    /// <summary>Both terms must have one dimension; what one knows the other learns.</summary>
    Dimension? Alike(Term left, Term right)
    {
        var a = Of(left);
        var b = Of(right);
        if (a is { } x && !IsPlainNumber(left))
            Push(right, x);
        if (b is { } y && !IsPlainNumber(right))
            Push(left, y);
        if (IsPlainNumber(left))
            return b;
        if (IsPlainNumber(right))
            return a;
        if (reporting && a is { } l && b is { } r && l != r)
            Clash(l, r, current?.Owner ?? "");
        return a ?? b;
    }

    /// <summary>Tells a term what dimension it must have.</summary>
    void Push(Term term, Dimension dimension)
    {
        switch (term)
        {
            case SlotTerm s when Outside(s) is { } variable:
                Push(variable, dimension);
                return;
            case OperandTerm a when within is { } run:
                Push(run.Operands[a.Number], dimension);
                return;
            case VariableTerm v:
                if (v.Index < model.Variables.Count && model.Variables[v.Index].Type is Language.Binding.ScalarType.Real)
                    Learn(v.Index, dimension);
                return;
            case ConditionalTerm c when Decided(c) is { } branch:
                Push(branch, dimension);
                return;
            case ConditionalTerm c:
                Push(c.Then, dimension);
                Push(c.Otherwise, dimension);
                return;
            case OperationTerm { Kind: Operator.Negate or Operator.Absolute } o:
                Push(o.Left, dimension);
                return;
            case OperationTerm { Kind: Operator.Add or Operator.Subtract or Operator.Minimum or Operator.Maximum } o:
                Push(o.Left, dimension);
                Push(o.Right, dimension);
                return;
            case OperationTerm { Kind: Operator.Multiply } o:
                if (Of(o.Left) is { } l && !IsPlainNumber(o.Left))
                    Push(o.Right, dimension / l);
                else if (Of(o.Right) is { } r && !IsPlainNumber(o.Right))
                    Push(o.Left, dimension / r);
                return;
            case OperationTerm { Kind: Operator.Divide } o:
                if (Of(o.Right) is { } divisor)
                    Push(o.Left, dimension * divisor);
                else if (Of(o.Left) is { } dividend && !IsPlainNumber(o.Left))
                    Push(o.Right, dividend / dimension);
                return;
        }
    }
}
