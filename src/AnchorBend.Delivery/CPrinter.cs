using AnchorBend.Compiler.Lowering;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Delivery;

/// <summary>Writes values and conditions of the lowered program as expressions of C, with no more brackets than they need.</summary>
/// <param name="read">How a place is read.</param>
/// <param name="local">What a local is called.</param>
sealed class CPrinter(CodeUnit unit, CPlaces places, Func<PlaceCode, string> read, Func<int, (string Name, bool IsBoolean)> local)
{
    /// <summary>How tightly C binds (ISO/IEC 9899:1999, section 6.5); what binds less than its surroundings stands in brackets.</summary>
    enum Bind
    {
        Choice,
        Or,
        And,
        Equality,
        Relation,
        Sum,
        Product,
        Prefix,
        Whole,
    }

    readonly bool isFloat = unit.Request.IsFloat;

    /// <summary>Locals that a value sets before it is used, in this order; whoever prints a value writes them first.</summary>
    public List<(int Local, string Value, bool IsBoolean)> Lets { get; } = [];

    /// <summary>Functions of the code's own that were used.</summary>
    public HashSet<string> Helpers { get; } = [];

    public string Real => isFloat ? "float" : "double";

    public string Value(Code code) => Number(code, Bind.Choice);

    public string Truth(Code code) => TruthOf(code, Bind.Choice);

    public string Condition(Test test) => TestOf(test, Bind.Choice);

    string Literal(double value) => CPlaces.Literal(value, isFloat);

    static string In(string text, Bind own, Bind around) => own < around ? $"({text})" : text;

    /// <summary>Whether a value is one of true and false in C too.</summary>
    public bool IsBoolean(Code code) =>
        code switch
        {
            TruthCode => true,
            PlaceCode { Space: Space.Memory } p => places.IsBoolean(p.Index),
            LocalCode l => local(l.Local).IsBoolean,
            LetCode l => IsBoolean(l.Value),
            ChooseCode c => Decided(c.Condition) is { } known
                ? IsBoolean(known ? c.Then : c.Otherwise)
                : IsBoolean(c.Then) && IsBoolean(c.Otherwise)
                    || IsBoolean(c.Then) && c.Otherwise is NumberCode
                    || IsBoolean(c.Otherwise) && c.Then is NumberCode,
            _ => false,
        };

    /// <summary>The value of what is known before the code runs; null for the rest.</summary>
    public double? Known(Code code) =>
        code switch
        {
            NumberCode n => n.Value,
            // Where a step is evaluated once, clocks tick after the first evaluation, which nothing is left of.
            PlaceCode { Space: Space.Memory, Index: FlatModel.InitialFlagIndex } when IsOnce => 0,
            PlaceCode { Space: Space.Memory } p => places.Number(p.Index),
            OperationCode { Kind: Operator.Negate } o => -Known(o.Left),
            OperationCode { Kind: Operator.Add } o => Known(o.Left) + Known(o.Right!),
            OperationCode { Kind: Operator.Subtract } o => Known(o.Left) - Known(o.Right!),
            OperationCode { Kind: Operator.Multiply } o => Known(o.Left) * Known(o.Right!),
            OperationCode { Kind: Operator.Divide } o => Known(o.Left) / Known(o.Right!),
            TruthCode t => Decided(t.Condition) is { } holds ? (holds ? 1 : 0) : null,
            ChooseCode c => Decided(c.Condition) is { } holds ? Known(holds ? c.Then : c.Otherwise) : null,
            _ => null,
        };

    /// <summary>Whether a condition that is known before the code runs holds; null for the rest.</summary>
    public bool? Decided(Test test) =>
        test switch
        {
            NotTest n => !Decided(n.Operand),
            AndTest a => Decided(a.Left) is { } left ? (left ? Decided(a.Right) : false)
            : Decided(a.Right) == false ? false
            : null,
            OrTest o => Decided(o.Left) is { } left ? (left ? true : Decided(o.Right))
            : Decided(o.Right) == true ? true
            : null,
            NonZeroTest z => AlwaysTicks(z.Value) ? true
            : Known(z.Value) is { } value ? value != 0
            : null,
            CompareTest c when Known(c.Left) is { } a && Known(c.Right) is { } b => c.Kind switch
            {
                Operator.Less => a < b,
                Operator.LessOrEqual => a <= b,
                Operator.Greater => a > b,
                Operator.GreaterOrEqual => a >= b,
                Operator.Equal => a == b,
                _ => a != b,
            },
            HeldTest h => Decided(h.Anew),
            _ => null,
        };

    /// <summary>Whether each step is evaluated once.</summary>
    public bool IsOnce { get; init; }

    /// <summary>Flags that are up at each step; told by whoever knows that each step is evaluated once.</summary>
    public IReadOnlySet<int> Always { get; init; } = new HashSet<int>();

    bool AlwaysTicks(Code code) => code is PlaceCode { Space: Space.Memory } p && Always.Contains(p.Index);

    string Place(PlaceCode place) =>
        place.Space == Space.Memory && places.IsParameter(place.Index)
            ? places.Parameter(place.Index, Of, Derive) is { Length: > 0 } named
                ? named
                : Literal(places.Number(place.Index)!.Value)
            : read(place);

    /// <summary>Where the value of a parameter that others lead to is kept.</summary>
    public Func<FlatVariable, string> Derive { get; init; } = v => v.Name;

    /// <summary>A term of parameters.</summary>
    string Of(Term term) =>
        unit.Program.Terms([term]).Body is [ResultStatement result]
            ? Number(result.Value, Bind.Choice)
            : throw new DeliveryException(
                "parameter",
                "A parameter is too involved to be changed while the code runs.",
                "Make it constant."
            );

    string Number(Code code, Bind around)
    {
        switch (code)
        {
            case NumberCode n:
                return Literal(n.Value);
            case PlaceCode { Space: Space.Memory } p when places.IsBoolean(p.Index) && !places.IsParameter(p.Index):
                return In($"{Place(p)} ? {Literal(1)} : {Literal(0)}", Bind.Choice, Up(around));
            case PlaceCode p:
                return Place(p);
            case TimeCode:
                return "t";
            case LocalCode l:
                var (name, isBoolean) = local(l.Local);
                return isBoolean ? In($"{name} ? {Literal(1)} : {Literal(0)}", Bind.Choice, Up(around)) : name;
            case LetCode l:
                return Number(Let(l), around);
            case OperationCode o:
                return Operation(o, around);
            case PowerCode { Exponent: 2 } p when IsName(p.Operand):
                var squared = Number(p.Operand, Bind.Product);
                return In($"{squared} * {squared}", Bind.Product, around);
            case PowerCode p:
                return Call("power", Number(p.Operand, Bind.Choice), Literal(p.Exponent));
            case ChooseCode c when Decided(c.Condition) is { } known:
                return Number(known ? c.Then : c.Otherwise, around);
            case ChooseCode c:
                return In(
                    $"{TestOf(c.Condition, Bind.Whole)} ? {Number(c.Then, Bind.Prefix)} : {Number(c.Otherwise, Bind.Prefix)}",
                    Bind.Choice,
                    Up(around)
                );
            case TruthCode t:
                return In($"{TestOf(t.Condition, Bind.Whole)} ? {Literal(1)} : {Literal(0)}", Bind.Choice, Up(around));
            case TableCode t:
                return Table(t);
            case CallCode f:
                throw new DeliveryException("function", $"'{f.Function.Name}' has no C code.", "Replace it by a table of its values.");
            default:
                throw new InvalidOperationException($"unknown code {code.GetType().Name}");
        }
    }

    /// <summary>Choices stand in brackets but where they are all there is.</summary>
    static Bind Up(Bind around) => around == Bind.Choice ? Bind.Choice : Bind.Whole;

    static bool IsName(Code code) => code is PlaceCode or LocalCode;

    /// <summary>Whether nothing else reads a local, so that its value may stand where it is set.</summary>
    public Func<int, bool> Inlines { get; init; } = _ => true;

    /// <summary>Gives a local its name.</summary>
    public Func<int, bool, string> Named { get; init; } = (_, _) => "";

    Code Let(LetCode let)
    {
        if (Inlines(let.Local))
            return let.Value;
        var isBoolean = IsBoolean(let.Value);
        var value = isBoolean ? TruthOf(let.Value, Bind.Choice) : Number(let.Value, Bind.Choice);
        Named(let.Local, isBoolean);
        Lets.Add((let.Local, value, isBoolean));
        return new LocalCode(let.Local);
    }

    string Call(string helper, params string[] operands)
    {
        Helpers.Add(helper);
        return $"{helper}({string.Join(", ", operands)})";
    }

    string Function(string name, params string[] operands) => $"{name}{(isFloat ? "f" : "")}({string.Join(", ", operands)})";

    string Operation(OperationCode o, Bind around)
    {
        string Arg(Code code) => Number(code, Bind.Choice);
        // The second operand of a sum of sums keeps its brackets: sums are not associative here. A product within a sum has them too, so
        // that nobody has to know which one binds more tightly.
        string Both(string sign, Bind own) => In($"{Operand(o.Left, own, own)} {sign} {Operand(o.Right!, own + 1, own)}", own, around);
        string Operand(Code code, Bind least, Bind own) =>
            Number(
                code,
                own == Bind.Sum && code is OperationCode { Kind: Operator.Multiply or Operator.Divide } or PowerCode ? Bind.Prefix : least
            );
        switch (o.Kind)
        {
            case Operator.Add:
                return Both("+", Bind.Sum);
            case Operator.Subtract:
                return Both("-", Bind.Sum);
            case Operator.Multiply:
                return Both("*", Bind.Product);
            case Operator.Divide:
                return Both("/", Bind.Product);
            case Operator.Negate:
                return In("-" + Number(o.Left, Bind.Whole), Bind.Prefix, around);
            case Operator.Minimum:
                return Call("least", Arg(o.Left), Arg(o.Right!));
            case Operator.Maximum:
                return Call("greatest", Arg(o.Left), Arg(o.Right!));
            case Operator.Sign:
                return Call("sign_of", Arg(o.Left));
            case Operator.Power:
                return Call("power", Arg(o.Left), Arg(o.Right!));
            case Operator.Modulo:
                return Call("modulo", Arg(o.Left), Arg(o.Right!));
            case Operator.Remainder:
                return Call("remainder_of", Arg(o.Left), Arg(o.Right!));
            case Operator.IntegerDivide:
                return Function("trunc", Both("/", Bind.Product));
            case Operator.Atan2:
                return Function("atan2", Arg(o.Left), Arg(o.Right!));
            default:
                return Function(Functions[o.Kind], Arg(o.Left));
        }
    }

    static readonly Dictionary<Operator, string> Functions = new()
    {
        [Operator.Absolute] = "fabs",
        [Operator.Floor] = "floor",
        [Operator.Ceiling] = "ceil",
        [Operator.SquareRoot] = "sqrt",
        [Operator.Sin] = "sin",
        [Operator.Cos] = "cos",
        [Operator.Tan] = "tan",
        [Operator.Asin] = "asin",
        [Operator.Acos] = "acos",
        [Operator.Atan] = "atan",
        [Operator.Sinh] = "sinh",
        [Operator.Cosh] = "cosh",
        [Operator.Tanh] = "tanh",
        [Operator.Exp] = "exp",
        [Operator.Log] = "log",
        [Operator.Log10] = "log10",
    };

    string Table(TableCode t)
    {
        var table = places.TableAt(t.Place, t.Count);
        var (repeats, steps) = (
            t.Kind is TableKind.RepeatingLinear or TableKind.RepeatingSteps,
            t.Kind is TableKind.Steps or TableKind.RepeatingSteps
        );
        var abscissa = Number(t.Abscissa, Bind.Choice);
        Helpers.Add("table_in");
        var how = $"{table}_x, {table}_y, {t.Count}U, {Truth(repeats)}, {Truth(steps)}, {Truth(t.Slope)}";
        return t.HeldAbscissa < 0 ? Call("table_at", abscissa, how) : Call("table_held", abscissa, Since(t.HeldAbscissa, abscissa), how);
    }

    /// <summary>The abscissa of the last event, for one that is read now.</summary>
    public Func<int, string, string> Since { get; init; } = (_, now) => now;

    static string Truth(bool value) => value ? "true" : "false";

    string TruthOf(Code code, Bind around) =>
        code switch
        {
            NumberCode n => n.Value != 0 ? "true" : "false",
            TruthCode t => TestOf(t.Condition, around),
            PlaceCode { Space: Space.Memory } p when places.Number(p.Index) is { } value => value != 0 ? "true" : "false",
            PlaceCode { Space: Space.Memory } p when places.IsBoolean(p.Index) => Place(p),
            LocalCode l when local(l.Local).IsBoolean => local(l.Local).Name,
            LetCode l => TruthOf(Let(l), around),
            ChooseCode c when Decided(c.Condition) is { } known => TruthOf(known ? c.Then : c.Otherwise, around),
            ChooseCode c => In(
                $"{TestOf(c.Condition, Bind.Whole)} ? {TruthOf(c.Then, Bind.Whole)} : {TruthOf(c.Otherwise, Bind.Whole)}",
                Bind.Choice,
                Up(around)
            ),
            _ => In($"{Number(code, Bind.Prefix)} != {Literal(0)}", Bind.Equality, around),
        };

    string TestOf(Test test, Bind around)
    {
        if (Decided(test) is { } known)
            return known ? "true" : "false";
        switch (test)
        {
            case NotTest n:
                return In("!" + TestOf(n.Operand, Bind.Whole), Bind.Prefix, around);
            case AndTest a when Decided(a.Left) == true:
                return TestOf(a.Right, around);
            case AndTest a when Decided(a.Right) == true:
                return TestOf(a.Left, around);
            case OrTest o when Decided(o.Left) == false:
                return TestOf(o.Right, around);
            case OrTest o when Decided(o.Right) == false:
                return TestOf(o.Left, around);
            // Both kinds side by side stand in brackets, as readers and compilers want it; so do comparisons within them.
            case AndTest a:
                return In($"{TestOf(a.Left, Bind.Whole)} && {TestOf(a.Right, Bind.Whole)}", Bind.And, Up(around));
            case OrTest o:
                return In($"{TestOf(o.Left, Bind.Whole)} || {TestOf(o.Right, Bind.Whole)}", Bind.Or, Up(around));
            case NonZeroTest z:
                return TruthOf(z.Value, around);
            case HeldTest h:
                return Held(h, around);
            case CompareTest { Kind: Operator.Equal or Operator.NotEqual } c when IsBoolean(c.Left) && IsBoolean(c.Right):
                return In($"{TruthOf(c.Left, Bind.Whole)} {Sign(c.Kind)} {TruthOf(c.Right, Bind.Whole)}", Bind.Equality, around);
            case CompareTest c:
                var own = c.Kind is Operator.Equal or Operator.NotEqual ? Bind.Equality : Bind.Relation;
                return In($"{Number(c.Left, Bind.Prefix)} {Sign(c.Kind)} {Number(c.Right, Bind.Prefix)}", own, around);
            default:
                throw new InvalidOperationException($"unknown test {test.GetType().Name}");
        }
    }

    /// <summary>How a relation is read: decided anew, or as it was decided at the beginning of the step.</summary>
    public Func<HeldTest, string?> Kept { get; init; } = _ => null;

    string Held(HeldTest held, Bind around) => Kept(held) ?? TestOf(held.Anew, around);

    static string Sign(Operator kind) =>
        kind switch
        {
            Operator.Less => "<",
            Operator.LessOrEqual => "<=",
            Operator.Greater => ">",
            Operator.GreaterOrEqual => ">=",
            Operator.Equal => "==",
            _ => "!=",
        };
}
