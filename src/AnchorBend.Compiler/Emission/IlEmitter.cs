using System.Reflection;
using System.Reflection.Emit;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Emission;

/// <summary>Writes a routine down as IL, in a dynamic method.</summary>
sealed partial class IlEmitter
{
    const BindingFlags Static = BindingFlags.Public | BindingFlags.Static;

    // A delegate with a first argument of its own needs no rearranging of arguments at every call.
    static readonly Type[] Arguments =
    [
        typeof(object),
        typeof(ModelRuntime),
        typeof(double),
        typeof(double*),
        typeof(double*),
        typeof(double*),
        typeof(int),
    ];

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
    static readonly MethodInfo SolveLoopMethod = typeof(ModelRuntime).GetMethod(nameof(ModelRuntime.SolveLoop))!;
    static readonly MethodInfo DelayedMethod = typeof(ModelRuntime).GetMethod(nameof(ModelRuntime.Delayed))!;
    static readonly MethodInfo DelayedByMethod = typeof(ModelRuntime).GetMethod(nameof(ModelRuntime.DelayedBy))!;
    static readonly MethodInfo TableMethod = typeof(TableCall).GetMethod(nameof(TableCall.Evaluate), Static)!;
    static readonly MethodInfo TableCountMethod = typeof(TableCall).GetMethod(nameof(TableCall.Count), Static)!;
    static readonly MethodInfo HeldTableMethod = typeof(TableCall).GetMethod(nameof(TableCall.EvaluateHeld), Static)!;

    static readonly MethodInfo IntrinsicMethod = typeof(Intrinsics).GetMethod(nameof(Intrinsics.Invoke), Static)!;

    /// <summary>Numbers that every function outside is given.</summary>
    const int MostOperands = 4;

    readonly ILGenerator il;
    readonly LocalBuilder?[] locals;

    IlEmitter(ILGenerator il, int locals) => (this.il, this.locals) = (il, new LocalBuilder?[locals]);

    static MethodInfo Maths(string name) => typeof(Math).GetMethod(name, Static, [typeof(double)])!;

    static MethodInfo Own(string name) => typeof(TermEvaluator).GetMethod(name, Static)!;

    /// <summary>The method of a routine; compiled when it is first called or prepared.</summary>
    public static DynamicMethod Write(Routine routine)
    {
        var method = new DynamicMethod(
            routine.Name,
            typeof(void),
            routine.HasResult ? [.. Arguments, typeof(double*)] : Arguments,
            typeof(IlEmitter).Module,
            true
        )
        {
            InitLocals = false,
        };
        var il = method.GetILGenerator();
        new IlEmitter(il, routine.Locals).All(routine.Body);
        il.Emit(OpCodes.Ret);
        return method;
    }

    void All(IReadOnlyList<Statement> body)
    {
        foreach (var statement in body)
            Write(statement);
    }

    void Write(Statement statement)
    {
        switch (statement)
        {
            case StoreStatement { Local: < 0 } s:
                Address(s.To);
                Push(s.Value);
                il.Emit(OpCodes.Stind_R8);
                return;
            case StoreStatement s:
                Push(s.Value);
                il.Emit(OpCodes.Stloc, Local(s.Local));
                Address(s.To);
                il.Emit(OpCodes.Ldloc, Local(s.Local));
                il.Emit(OpCodes.Stind_R8);
                return;
            case CountStatement c:
                Count(c.Place);
                return;
            case LocalStatement l:
                Push(l.Value);
                il.Emit(OpCodes.Stloc, Local(l.Local));
                return;
            case ResultStatement r:
                il.LoadArgument(Argument.Result);
                Offset(r.Index);
                Push(r.Value);
                il.Emit(OpCodes.Stind_R8);
                return;
            case GuardStatement g:
                var skip = il.DefineLabel();
                il.LoadArgument(Argument.Mode);
                il.Emit(OpCodes.Ldc_I4, g.LeastMode);
                il.Emit(OpCodes.Blt, skip);
                All(g.Body);
                il.MarkLabel(skip);
                return;
            case IfStatement i:
                var otherwise = il.DefineLabel();
                var end = il.DefineLabel();
                Unless(i.Condition, otherwise);
                All(i.Then);
                if (i.Otherwise.Count > 0)
                    il.Emit(OpCodes.Br, end);
                il.MarkLabel(otherwise);
                All(i.Otherwise);
                il.MarkLabel(end);
                return;
            case CopyStatement c:
                Address(new PlaceCode(Space.Memory, c.To));
                Address(new PlaceCode(Space.Memory, c.From));
                il.Emit(OpCodes.Ldc_I4, c.Count * 8);
                il.Emit(OpCodes.Cpblk);
                return;
            case SolveStatement s:
                il.LoadArgument(Argument.Runtime);
                il.Emit(OpCodes.Ldc_I4, s.Loop);
                il.LoadArgument(Argument.Time);
                il.LoadArgument(Argument.States);
                il.LoadArgument(Argument.Derivatives);
                il.LoadArgument(Argument.Memory);
                il.LoadArgument(Argument.Mode);
                il.Emit(OpCodes.Callvirt, SolveLoopMethod);
                return;
            default:
                throw new InvalidOperationException($"unknown statement {statement.GetType().Name}");
        }
    }

    LocalBuilder Local(int number) => locals[number] ??= il.DeclareLocal(typeof(double));

    void Offset(int index)
    {
        if (index == 0)
            return;
        il.Emit(OpCodes.Ldc_I4, index * 8);
        il.Emit(OpCodes.Conv_I);
        il.Emit(OpCodes.Add);
    }

    void Address(PlaceCode place)
    {
        il.LoadArgument(
            place.Space switch
            {
                Space.States => Argument.States,
                Space.Derivatives => Argument.Derivatives,
                _ => Argument.Memory,
            }
        );
        Offset(place.Index);
    }

    void LoadMemory(int place)
    {
        il.LoadArgument(Argument.Memory);
        Offset(place);
        il.Emit(OpCodes.Ldind_R8);
    }

    /// <summary>Pushes a value.</summary>
    void Push(Code code)
    {
        switch (code)
        {
            case NumberCode n:
                il.Emit(OpCodes.Ldc_R8, n.Value);
                return;
            case PlaceCode p:
                Address(p);
                il.Emit(OpCodes.Ldind_R8);
                return;
            case TimeCode:
                il.LoadArgument(Argument.Time);
                return;
            case LocalCode l:
                il.Emit(OpCodes.Ldloc, Local(l.Local));
                return;
            case LetCode l:
                Push(l.Value);
                il.Emit(OpCodes.Stloc, Local(l.Local));
                il.Emit(OpCodes.Ldloc, Local(l.Local));
                return;
            case OperationCode o:
                Operation(o);
                return;
            case PowerCode p:
                Power(p.Operand, p.Exponent);
                return;
            case ChooseCode c:
                Choose(c.Condition, () => Push(c.Then), () => Push(c.Otherwise));
                return;
            case TruthCode t:
                Choose(t.Condition, () => il.Emit(OpCodes.Ldc_R8, 1.0), () => il.Emit(OpCodes.Ldc_R8, 0.0));
                return;
            case DelayCode d:
                il.LoadArgument(Argument.Runtime);
                il.Emit(OpCodes.Ldc_I4, d.Delay);
                il.LoadArgument(Argument.Time);
                if (d.Duration is { } duration)
                    Push(duration);
                il.Emit(OpCodes.Callvirt, d.Duration is null ? DelayedMethod : DelayedByMethod);
                return;
            case TableCode t:
                Table(t);
                return;
            case CallCode f:
                il.Emit(OpCodes.Ldc_I4, f.Function.Number);
                for (var i = 0; i < MostOperands; i++)
                    if (i < f.Operands.Count)
                        Push(f.Operands[i]);
                    else
                        il.Emit(OpCodes.Ldc_R8, 0.0);
                il.Emit(OpCodes.Call, IntrinsicMethod);
                return;
            default:
                throw new InvalidOperationException($"unknown code {code.GetType().Name}");
        }
    }

    void Choose(Test condition, Action then, Action otherwise)
    {
        var no = il.DefineLabel();
        var end = il.DefineLabel();
        var result = il.DeclareLocal(typeof(double));
        Unless(condition, no);
        then();
        il.Emit(OpCodes.Stloc, result);
        il.Emit(OpCodes.Br, end);
        il.MarkLabel(no);
        otherwise();
        il.Emit(OpCodes.Stloc, result);
        il.MarkLabel(end);
        il.Emit(OpCodes.Ldloc, result);
    }

    void Table(TableCode t)
    {
        Push(t.Abscissa);
        if (t.Counts >= 0)
        {
            il.Emit(OpCodes.Dup);
            Address(new PlaceCode(Space.Memory, t.Place));
            il.Emit(OpCodes.Ldc_I4, t.Count);
            Address(new PlaceCode(Space.Memory, t.Counts));
            il.Emit(OpCodes.Call, TableCountMethod);
        }

        var isHeld = t.HeldAbscissa >= 0;
        if (isHeld)
            Hold(t.HeldAbscissa);
        Address(new PlaceCode(Space.Memory, t.Place));
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
        LoadMemory(place);
    }

    void Operation(OperationCode o)
    {
        if (o.Kind is Operator.Minimum or Operator.Maximum)
        {
            Extreme(o);
            return;
        }

        Push(o.Left);
        if (o.Right is { } right)
            Push(right);
        switch (o.Kind)
        {
            case Operator.Negate:
                il.Emit(OpCodes.Neg);
                return;
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
            case Operator.IntegerDivide:
                il.Emit(OpCodes.Div);
                il.Emit(OpCodes.Call, TruncateMethod);
                return;
            default:
                il.Emit(OpCodes.Call, Functions[o.Kind]);
                return;
        }
    }

    void Extreme(OperationCode o)
    {
        var a = il.DeclareLocal(typeof(double));
        var b = il.DeclareLocal(typeof(double));
        var second = il.DefineLabel();
        Push(o.Left);
        il.Emit(OpCodes.Stloc, a);
        Push(o.Right!);
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

    void Power(Code operand, int exponent)
    {
        var a = il.DeclareLocal(typeof(double));
        Push(operand);
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
