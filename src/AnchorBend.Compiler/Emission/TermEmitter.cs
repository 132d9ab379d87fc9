using System.Reflection;
using System.Reflection.Emit;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Emission;

/// <summary>Emits IL that computes terms. The arithmetic is the evaluator's, operation by operation, so results agree bit for
/// bit.</summary>
sealed partial class TermEmitter(ExecutionPlan plan, MemoryLayout layout, ILGenerator il, CommonSubexpressions shared)
{
    const BindingFlags Static = BindingFlags.Public | BindingFlags.Static;

    static readonly Dictionary<Operator, MethodInfo> Functions = new()
    {
        [Operator.Sin] = Maths(nameof(Math.Sin)),
        [Operator.Cos] = Maths(nameof(Math.Cos)),
        [Operator.Tan] = Maths(nameof(Math.Tan)),
        [Operator.Asin] = Maths(nameof(Math.Asin)),
        [Operator.Acos] = Maths(nameof(Math.Acos)),
        [Operator.Atan] = Maths(nameof(Math.Atan)),
        [Operator.Sinh] = Maths(nameof(Math.Sinh)),
        [Operator.Cosh] = Maths(nameof(Math.Cosh)),
        [Operator.Tanh] = Maths(nameof(Math.Tanh)),
        [Operator.Exp] = Maths(nameof(Math.Exp)),
        [Operator.Log] = Maths(nameof(Math.Log)),
        [Operator.Log10] = Maths(nameof(Math.Log10)),
        [Operator.SquareRoot] = Maths(nameof(Math.Sqrt)),
        [Operator.Absolute] = Maths(nameof(Math.Abs)),
        [Operator.Floor] = Maths(nameof(Math.Floor)),
        [Operator.Ceiling] = Maths(nameof(Math.Ceiling)),
        [Operator.Sign] = Own(nameof(TermEvaluator.Sign)),
        [Operator.Power] = Own(nameof(TermEvaluator.Power)),
        [Operator.Modulo] = Own(nameof(TermEvaluator.Modulo)),
        [Operator.Remainder] = Own(nameof(TermEvaluator.Remainder)),
        [Operator.Atan2] = typeof(Math).GetMethod(nameof(Math.Atan2), Static, [typeof(double), typeof(double)])!,
    };

    static readonly MethodInfo TruncateMethod = Maths(nameof(Math.Truncate));
    static readonly MethodInfo DelayedMethod = typeof(ModelRuntime).GetMethod(nameof(ModelRuntime.Delayed))!;
    static readonly MethodInfo DelayedByMethod = typeof(ModelRuntime).GetMethod(nameof(ModelRuntime.DelayedBy))!;
    static readonly MethodInfo TableMethod = typeof(TableCall).GetMethod(nameof(TableCall.Evaluate), Static)!;
    static readonly MethodInfo HeldTableMethod = typeof(TableCall).GetMethod(nameof(TableCall.EvaluateHeld), Static)!;

    /// <summary>How many values stay in locals. More would not fit into registers and be spilled, a second store for each.</summary>
    const int RememberedValues = 10;

    /// <summary>Values of variables that are at hand in locals of the present method.</summary>
    readonly Dictionary<int, LocalBuilder> locals = [];
    readonly Queue<int> recent = new();

    /// <summary>Notes that a variable's value is in a local as well as in memory, until newer ones take its place.</summary>
    public void Remember(int variable, LocalBuilder local)
    {
        locals[variable] = local;
        recent.Enqueue(variable);
        if (recent.Count > RememberedValues)
            locals.Remove(recent.Dequeue());
    }

    /// <summary>Notes a value that is in a local only.</summary>
    public void Keep(int variable, LocalBuilder local) => locals[variable] = local;

    public void Forget()
    {
        locals.Clear();
        recent.Clear();
        shared.Forget();
    }

    /// <summary>How many conditions the present place is under: what is computed there may not be at hand later.</summary>
    int conditions;

    static MethodInfo Maths(string name) => typeof(Math).GetMethod(name, Static, [typeof(double)])!;

    static MethodInfo Own(string name) => typeof(TermEvaluator).GetMethod(name, Static)!;

    public void LoadPlace(int place)
    {
        il.LoadArgument(Argument.Memory);
        Offset(place);
        il.Emit(OpCodes.Ldind_R8);
    }

    void Offset(int index)
    {
        if (index == 0)
            return;
        il.Emit(OpCodes.Ldc_I4, index * 8);
        il.Emit(OpCodes.Conv_I);
        il.Emit(OpCodes.Add);
    }

    /// <summary>Pushes the address of a variable's value.</summary>
    public void Address(int variable)
    {
        var (argument, index) =
            plan.StateSlot[variable] >= 0 ? (Argument.States, plan.StateSlot[variable])
            : plan.DerivativeSlot[variable] >= 0 ? (Argument.Derivatives, plan.DerivativeSlot[variable])
            : (Argument.Memory, variable);
        il.LoadArgument(argument);
        Offset(index);
    }

    void Load(int variable)
    {
        if (variable == FlatModel.TimeIndex)
        {
            il.LoadArgument(Argument.Time);
            return;
        }

        if (locals.TryGetValue(variable, out var local))
        {
            il.Emit(OpCodes.Ldloc, local);
            return;
        }

        Address(variable);
        il.Emit(OpCodes.Ldind_R8);
    }

    bool IsParameterOnly(Term term) =>
        term switch
        {
            ConstantTerm => true,
            VariableTerm v => v.Index >= 0 && plan.Model.Variables[v.Index].Role == VariableRole.Parameter,
            PreviousTerm or DelayTerm => false,
            _ => AllParameters(term.Operands),
        };

    /// <summary>Whether a term of parameters has its value in memory.</summary>
    bool IsHoisted(Term term) => IsParameterOnly(term) && layout.Hoist(term) >= 0;

    bool AllParameters(ReadOnlySpan<Term> operands)
    {
        foreach (var operand in operands)
            if (!IsParameterOnly(operand))
                return false;
        return true;
    }

    /// <summary>Pushes the value of a term.</summary>
    public void Value(Term term)
    {
        switch (term)
        {
            case ConstantTerm c:
                il.Emit(OpCodes.Ldc_R8, c.Value);
                return;
            case VariableTerm v:
                Load(v.Index);
                return;
            case PreviousTerm p:
                // The value of a continuous variable before the event is its present one until reinit changes it.
                if (plan.DiscreteSlot[p.Index] >= 0)
                    LoadPlace(layout.PreviousBase + plan.DiscreteSlot[p.Index]);
                else
                    Load(p.Index);
                return;
            case DelayTerm d:
                il.LoadArgument(Argument.Runtime);
                il.Emit(OpCodes.Ldc_I4, d.Delay);
                il.LoadArgument(Argument.Time);
                if (d.Duration is { } duration)
                    Value(duration);
                il.Emit(OpCodes.Callvirt, d.Duration is null ? DelayedMethod : DelayedByMethod);
                return;
        }

        if (term is not TableTerm && IsParameterOnly(term) && layout.Hoist(term) is var hoisted and >= 0)
        {
            LoadPlace(hoisted);
            return;
        }

        if (!shared.Contains(term, out var number, out var known))
        {
            Compute(term);
            return;
        }

        if (known is null)
        {
            Compute(term);
            if (conditions > 0)
                return;
            known = il.DeclareLocal(typeof(double));
            il.Emit(OpCodes.Stloc, known);
            shared.Keep(number, known);
        }

        il.Emit(OpCodes.Ldloc, known);
    }

    void Compute(Term term)
    {
        switch (term)
        {
            case OperationTerm { Kind: Operator.Not or Operator.And or Operator.Or or (>= Operator.Less and <= Operator.NotEqual) }
            or RelationTerm:
                Boolean(term);
                return;
            case OperationTerm o:
                Operation(o);
                return;
            case ConditionalTerm c:
                var otherwise = il.DefineLabel();
                var end = il.DefineLabel();
                var result = il.DeclareLocal(typeof(double));
                Unless(c.Condition, otherwise);
                conditions++;
                Value(c.Then);
                il.Emit(OpCodes.Stloc, result);
                il.Emit(OpCodes.Br, end);
                il.MarkLabel(otherwise);
                Value(c.Otherwise);
                conditions--;
                il.Emit(OpCodes.Stloc, result);
                il.MarkLabel(end);
                il.Emit(OpCodes.Ldloc, result);
                return;
            case TableTerm t:
                Table(t);
                return;
            default:
                throw new InvalidOperationException($"unknown term {term.GetType().Name}");
        }
    }

    void Table(TableTerm t)
    {
        var knots = t.Knots.ToArray();
        var values = t.Values.ToArray();
        if (!AllParameters(knots) || !AllParameters(values))
            throw new InvalidOperationException("a table's knots and values must be parameters");
        var place = layout.HoistRow([.. knots, .. values]);
        Value(t.Abscissa);
        var isHeld = plan.HeldAbscissas.TryGetValue(t.Abscissa.Key, out var held);
        if (isHeld)
            Hold(layout.AbscissaBase + held);
        il.LoadArgument(Argument.Memory);
        Offset(place);
        il.Emit(OpCodes.Ldc_I4, t.Count);
        il.Emit(OpCodes.Ldc_I4, (int)t.Kind);
        il.Emit(t.Slope ? OpCodes.Ldc_I4_1 : OpCodes.Ldc_I4_0);
        il.Emit(OpCodes.Call, isHeld ? HeldTableMethod : TableMethod);
    }

    /// <summary>Keeps the abscissa on the stack in event mode, and pushes the one kept.</summary>
    void Hold(int place)
    {
        var held = il.DefineLabel();
        il.LoadArgument(Argument.Mode);
        il.Emit(OpCodes.Ldc_I4, EvaluationMode.Event);
        il.Emit(OpCodes.Bne_Un, held);
        var abscissa = il.DeclareLocal(typeof(double));
        il.Emit(OpCodes.Stloc, abscissa);
        il.LoadArgument(Argument.Memory);
        Offset(place);
        il.Emit(OpCodes.Ldloc, abscissa);
        il.Emit(OpCodes.Stind_R8);
        il.Emit(OpCodes.Ldloc, abscissa);
        il.MarkLabel(held);
        LoadPlace(place);
    }

    void Operation(OperationTerm o)
    {
        switch (o.Kind)
        {
            case Operator.Negate:
                Value(o.Left);
                il.Emit(OpCodes.Neg);
                return;
            case Operator.Minimum or Operator.Maximum:
                Extreme(o);
                return;
            case Operator.Power
                when o.Right is ConstantTerm { Value: var n }
                    && n == Math.Floor(n)
                    && Math.Abs(n) is >= 2 and <= TermEvaluator.LargestProduct:
                IntegerPower(o.Left, (int)n);
                return;
            case Operator.IntegerDivide:
                Value(o.Left);
                Value(o.Right);
                il.Emit(OpCodes.Div);
                il.Emit(OpCodes.Call, TruncateMethod);
                return;
        }

        Value(o.Left);
        if (o.Operands.Length == 2)
            Value(o.Right);
        switch (o.Kind)
        {
            case Operator.Add:
                il.Emit(OpCodes.Add);
                return;
            case Operator.Subtract:
                il.Emit(OpCodes.Sub);
                return;
            case Operator.Multiply:
                il.Emit(OpCodes.Mul);
                return;
            case Operator.Divide:
                il.Emit(OpCodes.Div);
                return;
            default:
                il.Emit(OpCodes.Call, Functions[o.Kind]);
                return;
        }
    }

    void Extreme(OperationTerm o)
    {
        var a = il.DeclareLocal(typeof(double));
        var b = il.DeclareLocal(typeof(double));
        var second = il.DefineLabel();
        Value(o.Left);
        il.Emit(OpCodes.Stloc, a);
        Value(o.Right);
        il.Emit(OpCodes.Stloc, b);
        il.Emit(OpCodes.Ldloc, a);
        il.Emit(OpCodes.Ldloc, b);
        // Unordered operands must take the second, as a < b ? a : b does.
        il.Emit(o.Kind == Operator.Minimum ? OpCodes.Bge_Un : OpCodes.Ble_Un, second);
        il.Emit(OpCodes.Ldloc, a);
        il.Emit(OpCodes.Stloc, b);
        il.MarkLabel(second);
        il.Emit(OpCodes.Ldloc, b);
    }

    void IntegerPower(Term operand, int exponent)
    {
        var a = il.DeclareLocal(typeof(double));
        Value(operand);
        il.Emit(OpCodes.Stloc, a);
        if (exponent < 0)
            il.Emit(OpCodes.Ldc_R8, 1.0);
        // From the highest bit down: square, and multiply where the bit is set (Knuth, "The Art of Computer Programming" 2, section 4.6.3).
        il.Emit(OpCodes.Ldloc, a);
        var size = Math.Abs(exponent);
        for (var bit = System.Numerics.BitOperations.Log2((uint)size) - 1; bit >= 0; bit--)
        {
            il.Emit(OpCodes.Dup);
            il.Emit(OpCodes.Mul);
            if ((size >> bit & 1) == 0)
                continue;
            il.Emit(OpCodes.Ldloc, a);
            il.Emit(OpCodes.Mul);
        }

        if (exponent < 0)
            il.Emit(OpCodes.Div);
    }
}

/// <summary>Entry for generated code into table lookup.</summary>
public static unsafe class TableCall
{
    /// <param name="data">n knots, then n values.</param>
    public static double Evaluate(double x, double* data, int n, int kind, bool slope) =>
        TableLookup.Evaluate(x, new ReadOnlySpan<double>(data, n), new ReadOnlySpan<double>(data + n, n), (TableKind)kind, slope);

    /// <param name="held">The abscissa of the last event.</param>
    /// <param name="data">n knots, then n values.</param>
    public static double EvaluateHeld(double x, double held, double* data, int n, int kind, bool slope) =>
        TableLookup.EvaluateHeld(x, held, new ReadOnlySpan<double>(data, n), new ReadOnlySpan<double>(data + n, n), (TableKind)kind, slope);
}
