using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using static AnchorBend.Language.Terms.TermBuilder;

namespace AnchorBend.Language.Binding;

/// <summary>Calls of built-in functions and operators (sections 3.7 and 10.3).</summary>
public sealed partial class Binder
{
    static readonly Dictionary<string, Operator> OneArgument = new()
    {
        ["sin"] = Operator.Sin,
        ["cos"] = Operator.Cos,
        ["tan"] = Operator.Tan,
        ["asin"] = Operator.Asin,
        ["acos"] = Operator.Acos,
        ["atan"] = Operator.Atan,
        ["sinh"] = Operator.Sinh,
        ["cosh"] = Operator.Cosh,
        ["tanh"] = Operator.Tanh,
        ["exp"] = Operator.Exp,
        ["log"] = Operator.Log,
        ["log10"] = Operator.Log10,
        ["sqrt"] = Operator.SquareRoot,
        ["abs"] = Operator.Absolute,
        ["sign"] = Operator.Sign,
    };

    /// <summary>Every function name that may be called, for suggestions and completion.</summary>
    public static readonly IReadOnlyList<string> Functions =
    [
        .. OneArgument.Keys,
        "atan2",
        "min",
        "max",
        "sum",
        "product",
        "size",
        "ndims",
        "zeros",
        "ones",
        "fill",
        "linspace",
        "identity",
        "transpose",
        "scalar",
        "vector",
        "floor",
        "ceil",
        "integer",
        "mod",
        "rem",
        "div",
        "noEvent",
        "smooth",
        "homotopy",
        "semiLinear",
        "der",
        "pre",
        "edge",
        "change",
        "initial",
        "sample",
        "delay",
        "interpolate",
        "inStream",
        "actualStream",
    ];

    Value BindCall(Call call)
    {
        if (!IsBuiltIn(call.Function))
            return CallAll(call)[0];
        if (call.Named.Count > 0 && call.Function != "homotopy")
            throw new LanguageException("call", $"{call.Function} takes its arguments by position.", call.At);
        if (OneArgument.TryGetValue(call.Function, out var kind))
        {
            Count(call, 1, 1);
            var argument = Numeric(call.Arguments[0]);
            var type = kind is Operator.Absolute or Operator.Sign ? argument.Type : ScalarType.Real;
            return Map(argument, type, t => TermBuilder.Unary(kind, t));
        }

        switch (call.Function)
        {
            case "atan2":
                Count(call, 2, 2);
                return Elementwise(
                    Numeric(call.Arguments[0]),
                    Numeric(call.Arguments[1]),
                    ScalarType.Real,
                    (a, b) => TermBuilder.Binary(Operator.Atan2, a, b),
                    call.At
                );
            case "min" or "max":
                return Extreme(call);
            case "sum" or "product":
                Count(call, 1, 1);
                var array = Numeric(call.Arguments[0]);
                var isSum = call.Function == "sum";
                return Value.Scalar(array.Type, Join(array.Elements, isSum ? Term.Zero : Term.One, isSum ? Add : Multiply));
            case "size":
                return Size(call);
            case "ndims":
                Count(call, 1, 1);
                return Value.Scalar(ScalarType.Integer, Term.Of(Bind(call.Arguments[0]).Shape.Length));
            case "zeros" or "ones":
                return Filled(Term.Of(call.Function == "ones" ? 1 : 0), ScalarType.Integer, call.Arguments);
            case "fill":
                Count(call, 2, int.MaxValue);
                var content = Bind(call.Arguments[0]);
                return Filled(content.ScalarTerm(call.At), content.Type, [.. call.Arguments.Skip(1)]);
            case "linspace":
                Count(call, 3, 3);
                var (from, to, n) = (Scalar(call, 0), Scalar(call, 1), WholeNumber(call.Arguments[2]));
                budget.Values(n, call.At);
                if (n is < 2 or > 10_000_000)
                    throw new LanguageException("size", "linspace needs at least two points.", call.At);
                return new Value(
                    ScalarType.Real,
                    [n],
                    [.. Enumerable.Range(0, n).Select(i => Add(from, Multiply(Subtract(to, from), Term.Of((double)i / (n - 1)))))]
                );
            case "identity":
                Count(call, 1, 1);
                var size = WholeNumber(call.Arguments[0]);
                budget.Values((long)size * size, call.At);
                if (size is < 0 or > 3000)
                    throw new LanguageException("size", "That is no size for a matrix.", call.At);
                return new Value(
                    ScalarType.Integer,
                    [size, size],
                    [.. Enumerable.Range(0, size * size).Select(i => (Term)Term.Of(i / size == i % size))]
                );
            case "transpose":
                Count(call, 1, 1);
                var matrix = Numeric(call.Arguments[0]);
                if (matrix.Shape.Length != 2)
                    throw new LanguageException("shape", "transpose needs a matrix.", call.At);
                var (rows, columns) = (matrix.Shape[0], matrix.Shape[1]);
                return new Value(
                    matrix.Type,
                    [columns, rows],
                    [.. Enumerable.Range(0, rows * columns).Select(i => matrix.Elements[i % rows * columns + i / rows])]
                );
            case "scalar":
                Count(call, 1, 1);
                var single = Bind(call.Arguments[0]);
                if (single.Elements.Length != 1)
                    throw new LanguageException("shape", "scalar needs an array of one element.", call.At);
                return single with { Shape = [] };
            case "vector":
                Count(call, 1, 1);
                var flat = Bind(call.Arguments[0]);
                return flat with { Shape = [flat.Elements.Length] };
            case "floor" or "ceil" or "integer" or "mod" or "rem" or "div":
                return Rounded(call);
            case "noEvent":
                Count(call, 1, 1);
                return WithoutEvents(call.Arguments[0]);
            case "smooth":
                Count(call, 2, 2);
                return Bind(call.Arguments[1]);
            case "homotopy":
                return Bind(call.Arguments.Count > 0 ? call.Arguments[0] : call.Named.First(a => a.Name == "actual").Value);
            case "semiLinear":
                Count(call, 3, 3);
                var x = Scalar(call, 0);
                var positive = withoutEvents
                    ? TermBuilder.Binary(Operator.GreaterOrEqual, x, Term.Zero)
                    : new RelationTerm(Operator.GreaterOrEqual, x, Term.Zero);
                return Value.Real(TermBuilder.Conditional(positive, Multiply(Scalar(call, 1), x), Multiply(Scalar(call, 2), x)));
            case "der":
                Count(call, 1, 1);
                var variable = Itself(call.Arguments[0]);
                if (!variable.IsNumeric)
                    throw new LanguageException("type", $"A number is needed here, not {Describe(variable)}.", call.At);
                return Map(variable, ScalarType.Real, t => TimeDerivative(t, call.At));
            case "pre":
                Count(call, 1, 1);
                var before = Itself(call.Arguments[0]);
                return before with { Elements = [.. before.Elements.Select(t => Previous(t, call))] };
            case "edge" or "change":
                Count(call, 1, 1);
                var present = Bind(call.Arguments[0]).ScalarTerm(call.At);
                var earlier = Previous(Itself(call.Arguments[0]).ScalarTerm(call.At), call);
                return Value.Scalar(
                    ScalarType.Boolean,
                    call.Function == "edge" ? And(present, Not(earlier)) : TermBuilder.Binary(Operator.NotEqual, present, earlier)
                );
            case "initial":
                Count(call, 0, 0);
                return Value.Scalar(ScalarType.Boolean, new VariableTerm(scope.InitialFlag));
            case "terminal":
                return Value.Scalar(ScalarType.Boolean, Term.Zero);
            case "sample":
                Count(call, 2, 2);
                return Value.Scalar(ScalarType.Boolean, new VariableTerm(scope.SampleClock(Scalar(call, 0), Scalar(call, 1), call.At)));
            case "delay":
                Count(call, 2, 3);
                var duration = Scalar(call, 1);
                var longest = call.Arguments.Count == 3 ? Scalar(call, 2) : null;
                return Map(Numeric(call.Arguments[0]), ScalarType.Real, t => scope.Delay(t, duration, longest, call.At));
            case "interpolate":
                return Interpolate(call);
            case "inStream" or "actualStream":
                Count(call, 1, 1);
                return Map(Numeric(call.Arguments[0]), ScalarType.Real, t => Streamed(t, call));
        }

        throw new InvalidOperationException($"the built-in function {call.Function} has no meaning");
    }

    static bool IsBuiltIn(string name) => OneArgument.ContainsKey(name) || BuiltIn.Contains(name);

    static readonly HashSet<string> BuiltIn = [.. Functions, "terminal"];

    /// <summary>All results of a call of a function that is written in the language.</summary>
    public IReadOnlyList<Value> CallAll(Call call) =>
        (
            IsBuiltIn(call.Function)
                ? [Bind(call)]
                : scope.CallFunction(
                    call.Function,
                    [.. call.Arguments.Select(Bind)],
                    [.. call.Named.Select(n => (n.Name, Bind(n.Value)))],
                    call.At
                )
        )
        ?? throw new LanguageException(
            "unknown-function",
            $"There is no function '{call.Function}'.",
            call.At,
            Nearest.Of(call.Function, Functions) is { } near ? $"Did you mean {near}?" : null
        );

    static void Count(Call call, int least, int most)
    {
        if (call.Arguments.Count >= least && call.Arguments.Count <= most)
            return;
        var wanted =
            least == most ? $"{least}"
            : most == int.MaxValue ? $"at least {least}"
            : $"{least} to {most}";
        throw new LanguageException(
            "call",
            $"{call.Function} takes {wanted} argument{(wanted == "1" ? "" : "s")}, not {call.Arguments.Count}.",
            call.At
        );
    }

    Term Scalar(Call call, int index) => Numeric(call.Arguments[index]).ScalarTerm(call.Arguments[index].At);

    Value WithoutEvents(Expression expression)
    {
        var outer = withoutEvents;
        withoutEvents = true;
        try
        {
            return Bind(expression);
        }
        finally
        {
            withoutEvents = outer;
        }
    }

    Value Extreme(Call call)
    {
        var kind = call.Function == "min" ? Operator.Minimum : Operator.Maximum;
        Count(call, 1, 2);
        if (call.Arguments.Count == 2)
        {
            var (a, b) = (Numeric(call.Arguments[0]), Numeric(call.Arguments[1]));
            var type = a.Type == ScalarType.Integer && b.Type == ScalarType.Integer ? ScalarType.Integer : ScalarType.Real;
            return Elementwise(a, b, type, (l, r) => TermBuilder.Binary(kind, l, r), call.At);
        }

        var array = Numeric(call.Arguments[0]);
        if (array.Elements.Length == 0)
            throw new LanguageException("shape", $"{call.Function} of an empty array has no value.", call.At);
        return Value.Scalar(array.Type, Join(array.Elements, Term.Zero, (l, r) => TermBuilder.Binary(kind, l, r)));
    }

    Value Size(Call call)
    {
        Count(call, 1, 2);
        var shape = Itself(call.Arguments[0]).Shape;
        if (call.Arguments.Count == 1)
            return new Value(ScalarType.Integer, [shape.Length], [.. shape.Select(s => (Term)Term.Of(s))]);
        var dimension = WholeNumber(call.Arguments[1]);
        if (dimension < 1 || dimension > shape.Length)
            throw new LanguageException(
                "shape",
                $"The array has {shape.Length} dimension{(shape.Length == 1 ? "" : "s")}; there is no dimension {dimension}.",
                call.At
            );
        return Value.Scalar(ScalarType.Integer, Term.Of(shape[dimension - 1]));
    }

    Value Filled(Term content, ScalarType type, IReadOnlyList<Expression> sizes)
    {
        var shape = sizes.Select(WholeNumber).ToArray();
        if (shape.Any(s => s < 0))
            throw new LanguageException("size", "That is no size for an array.", sizes[0].At);
        var total = Value.CountOf(shape);
        budget.Values(total, sizes[0].At);
        var elements = new Term[total];
        Array.Fill(elements, content);
        return new Value(type, shape, elements);
    }

    /// <summary>Rounding functions change in steps, so outside noEvent each makes an event when it changes (section 3.7.2).</summary>
    Value Rounded(Call call)
    {
        var two = call.Function is "mod" or "rem" or "div";
        Count(call, two ? 2 : 1, two ? 2 : 1);
        var a = Scalar(call, 0);
        var integer =
            Numeric(call.Arguments[0]).Type == ScalarType.Integer && (!two || Numeric(call.Arguments[1]).Type == ScalarType.Integer);
        var type = integer || call.Function == "integer" ? ScalarType.Integer : ScalarType.Real;
        if (!two)
            return Value.Scalar(type, call.Function == "ceil" ? Negate(Floor(Negate(a), call.At)) : Floor(a, call.At));
        var b = Scalar(call, 1);
        var ratio = Divide(a, b);
        if (call.Function == "mod")
            return Value.Scalar(type, Subtract(a, Multiply(Floor(ratio, call.At), b)));
        var nonNegative = TermBuilder.Binary(Operator.GreaterOrEqual, ratio, Term.Zero);
        var whole =
            withoutEvents || ratio is ConstantTerm
                ? TermBuilder.Binary(Operator.IntegerDivide, a, b)
                : TermBuilder.Conditional(nonNegative, Floor(ratio, call.At), Negate(Floor(Negate(ratio), call.At)));
        return Value.Scalar(type, call.Function == "div" ? whole : Subtract(a, Multiply(whole, b)));
    }

    Term Floor(Term a, Position at)
    {
        if (withoutEvents || !scope.ChangesDuringRun(a))
            return TermBuilder.Unary(Operator.Floor, a);
        var held = scope.Discrete(
            "floor",
            index =>
            {
                var old = new PreviousTerm(index);
                var left = Or(new RelationTerm(Operator.Less, a, old), new RelationTerm(Operator.GreaterOrEqual, a, Add(old, Term.One)));
                return TermBuilder.Conditional(Or(new VariableTerm(scope.InitialFlag), left), TermBuilder.Unary(Operator.Floor, a), old);
            },
            at
        );
        return new VariableTerm(held);
    }

    /// <summary><c>inStream</c> and <c>actualStream</c> (sections 15.2 and 15.3).</summary>
    Term Streamed(Term term, Call call)
    {
        if (term is not VariableTerm v)
            throw new LanguageException("call", $"{call.Function} needs a stream variable of a connector.", call.At);
        var (incoming, actual) = scope.Stream(v.Index, call.At);
        return call.Function == "inStream" ? incoming : actual;
    }

    static Term Previous(Term term, Call call) =>
        term is VariableTerm v
            ? new PreviousTerm(v.Index)
            : throw new LanguageException("call", $"{call.Function} needs the name of a discrete variable.", call.At);

    Term TimeDerivative(Term term, Position at) =>
        TermDerivative.Of(term, leaf => leaf is VariableTerm v ? scope.DerivativeOf(v.Index, at) : Term.Zero);

    /// <summary><c>interpolate(x, xs, ys[, kind])</c> with kind one of "linear", "steps", "repeat", "repeat steps".</summary>
    Value Interpolate(Call call)
    {
        Count(call, 3, 4);
        var xs = Numeric(call.Arguments[1]);
        var ys = Numeric(call.Arguments[2]);
        if (xs.Shape.Length != 1 || xs.Elements.Length == 0)
            throw new LanguageException("shape", "The knots must be a vector.", call.Arguments[1].At);
        if (ys.Shape.Length != 1 || ys.Elements.Length != xs.Elements.Length)
            throw new LanguageException(
                "shape",
                $"There are {xs.Elements.Length} knots but {ys.Elements.Length} values.",
                call.Arguments[2].At
            );
        var kind = TableKind.Linear;
        if (call.Arguments.Count == 4)
        {
            var chosen = Bind(call.Arguments[3]);
            kind = chosen.Text switch
            {
                "linear" => TableKind.Linear,
                "steps" => TableKind.Steps,
                "repeat" => TableKind.RepeatingLinear,
                "repeat steps" => TableKind.RepeatingSteps,
                null when chosen.Type == ScalarType.Enumeration => (TableKind)(
                    (int)scope.Constant(chosen.ScalarTerm(call.At), call.At) - 1
                ),
                _ => throw new LanguageException(
                    "call",
                    "The kind of a table is \"linear\", \"steps\", \"repeat\" or \"repeat steps\".",
                    call.Arguments[3].At
                ),
            };
        }

        return Value.Real(
            new TableTerm([Scalar(call, 0), .. xs.Elements, .. ys.Elements], kind, false) { Origin = OriginOf(call.At, OriginKind.Table) }
        );
    }
}
