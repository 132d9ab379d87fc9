using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using static AnchorBend.Language.Terms.TermBuilder;

namespace AnchorBend.Language.Binding;

/// <summary>
/// Turns expressions into typed values of scalar terms: resolves names, checks types and shapes, expands arrays.
/// Semantics follow the Modelica Language Specification 3.6, chapters 3 and 10, within the subset of docs/equation-language.md.
/// </summary>
public sealed partial class Binder(IScope scope, bool withoutEvents = false)
{
    bool withoutEvents = withoutEvents;
    readonly WorkBudget budget = WorkBudget.Current;
    readonly Dictionary<string, Value> iterators = [];
    Func<Expression, int?, Value>? subscripts;

    /// <summary>Where the expressions stand.</summary>
    public IScope Place => scope;

    public Value Bind(Expression expression)
    {
        var value = Made(expression);
        budget.Values(1 + value.Elements.Length, expression.At);
        return value;
    }

    Value Made(Expression expression)
    {
        switch (expression)
        {
            case NumberLiteral n:
                return Value.Scalar(n.IsInteger ? ScalarType.Integer : ScalarType.Real, Term.Of(n.Value));
            case BooleanLiteral b:
                return Value.Scalar(ScalarType.Boolean, Term.Of(b.Value));
            case StringLiteral s:
                return Value.OfString(s.Value);
            case Quantity q:
                return Map(Numeric(q.Value), ScalarType.Real, t =>
                    scope.WithUnit(Add(Multiply(t, Term.Of(q.Unit.Factor)), Term.Of(q.Unit.Offset)), q.Unit)
                );
            case Reference r:
                if (r.Parts.Count == 1 && iterators.TryGetValue(r.Parts[0].Name, out var iterator))
                    return iterator;
                return Assigned is null ? scope.Resolve(r, subscripts ??= Subscript) : Replaced(scope.Resolve(r, subscripts ??= Subscript));
            case Unary u:
                return BindUnary(u);
            case Binary b:
                return BindBinary(b);
            case Conditional c:
                return BindConditional(c);
            case Call c:
                return BindCall(c);
            case TupleExpression t:
                throw new LanguageException(
                    "syntax",
                    "A list in brackets takes the results of a function call and stands at its left.",
                    t.At
                );
            case ArrayLiteral a:
                return Stack([.. a.Elements.Select(Bind)], a.At);
            case MatrixLiteral m:
                return BindMatrix(m);
            case RangeExpression r:
                return BindRange(r);
            case Comprehension c:
                return BindComprehension(c, 0);
            case EndOfDimension e:
                return endOf is { } size
                    ? Value.Scalar(ScalarType.Integer, Term.Of(size))
                    : throw new LanguageException("syntax", "'end' stands for a size only inside a subscript.", e.At);
            default:
                throw new LanguageException("syntax", "This cannot stand here.", expression.At);
        }
    }

    /// <summary>Inside an algorithm: what a variable holds after the statements so far. der, pre, edge and change read the variable
    /// itself.</summary>
    public Func<int, Term>? Assigned { get; set; }

    Value Replaced(Value value) =>
        value.Elements.Any(e => e is VariableTerm)
            ? value with
            {
                Elements = [.. value.Elements.Select(e => e is VariableTerm v ? Assigned!(v.Index) : e)],
            }
            : value;

    /// <summary>The variables that an assignment's left side names.</summary>
    internal Value Target(Reference target)
    {
        if (target.Parts.Count == 1 && iterators.ContainsKey(target.Parts[0].Name))
            throw new LanguageException("algorithm", $"'{target.Path}' counts a loop and cannot be assigned to.", target.At);
        return scope.Resolve(target, subscripts ??= Subscript);
    }

    /// <summary>Binds the argument of der, pre, edge or change: the variable itself, whatever an algorithm has assigned to it.</summary>
    Value Itself(Expression argument)
    {
        var outer = Assigned;
        Assigned = null;
        try
        {
            return Bind(argument);
        }
        finally
        {
            Assigned = outer;
        }
    }

    /// <summary>Binds with one index standing for a number, as loops do.</summary>
    public T WithIterator<T>(string name, double value, bool integer, Func<T> body)
    {
        var had = iterators.TryGetValue(name, out var old);
        iterators[name] = Value.Scalar(integer ? ScalarType.Integer : ScalarType.Real, Term.Of(value));
        try
        {
            return body();
        }
        finally
        {
            if (had)
                iterators[name] = old!;
            else
                iterators.Remove(name);
        }
    }

    /// <summary>Binds a condition: a scalar Boolean.</summary>
    public Term Condition(Expression expression)
    {
        var value = Bind(expression);
        if (value.Type != ScalarType.Boolean)
            throw new LanguageException(
                "type",
                "A condition is needed here: true, false or a comparison.",
                expression.At,
                value.IsNumeric ? "Compare with a number, as in x > 0." : null
            );
        return value.ScalarTerm(expression.At);
    }

    /// <summary>The whole number that an expression of parameters has, as sizes and loops need.</summary>
    public int WholeNumber(Expression expression)
    {
        var number = scope.Constant(Numeric(expression).ScalarTerm(expression.At), expression.At);
        if (number != Math.Floor(number) || Math.Abs(number) > 1e7)
            throw new LanguageException("size", $"A whole number is needed here, not {number:R}.", expression.At);
        return (int)number;
    }

    /// <summary>The numbers an index of a loop goes through.</summary>
    public (double[] Values, bool Integer) Range(Expression expression)
    {
        var value = Numeric(expression);
        if (value.Shape.Length != 1)
            throw new LanguageException("shape", "A loop needs a range such as 1:n.", expression.At);
        return ([.. value.Elements.Select(t => scope.Constant(t, expression.At))], value.Type == ScalarType.Integer);
    }

    int? endOf;

    Value Subscript(Expression expression, int? size)
    {
        var outer = endOf;
        endOf = size;
        try
        {
            return Bind(expression);
        }
        finally
        {
            endOf = outer;
        }
    }

    Value Numeric(Expression expression)
    {
        var value = Bind(expression);
        if (!value.IsNumeric)
            throw new LanguageException("type", $"A number is needed here, not {Describe(value)}.", expression.At);
        return value;
    }

    static string Describe(Value value) =>
        value.Type switch
        {
            ScalarType.Boolean => "a condition",
            ScalarType.String => "a string",
            ScalarType.Enumeration => $"a choice of {value.Enumeration}",
            _ => "a number",
        };

    static Value Map(Value value, ScalarType type, Func<Term, Term> each) => new(type, value.Shape, [.. value.Elements.Select(each)]);

    Value BindUnary(Unary u)
    {
        if (u.Kind == UnaryKind.Not)
            return Value.Scalar(ScalarType.Boolean, Not(Condition(u.Operand)));
        var operand = Numeric(u.Operand);
        return u.Kind == UnaryKind.Plus ? operand : Map(operand, operand.Type, Negate);
    }

    Value BindBinary(Binary b)
    {
        switch (b.Kind)
        {
            case BinaryKind.And:
                return Value.Scalar(ScalarType.Boolean, Combined(b, And(Condition(b.Left), Condition(b.Right))));
            case BinaryKind.Or:
                return Value.Scalar(ScalarType.Boolean, Combined(b, Or(Condition(b.Left), Condition(b.Right))));
            case >= BinaryKind.Equal and <= BinaryKind.GreaterOrEqual:
                return BindRelation(b);
        }

        var left = Numeric(b.Left);
        var right = Numeric(b.Right);
        var type =
            left.Type == ScalarType.Integer
            && right.Type == ScalarType.Integer
            && b.Kind is not (BinaryKind.Divide or BinaryKind.ElementDivide or BinaryKind.Power or BinaryKind.ElementPower)
                ? ScalarType.Integer
                : ScalarType.Real;
        switch (b.Kind)
        {
            case BinaryKind.Multiply when left.Shape.Length > 0 && right.Shape.Length > 0:
                return Product(left, right, type, b.At);
            case BinaryKind.Divide when !right.IsScalar:
                throw new LanguageException("shape", "An array cannot be a divisor.", b.At, "Use ./ to divide element by element.");
            case BinaryKind.Power when !left.IsScalar || !right.IsScalar:
                throw new LanguageException("shape", "^ is for scalars.", b.At, "Use .^ for each element.");
            case BinaryKind.Add or BinaryKind.Subtract when left.Shape.Length != right.Shape.Length:
                throw new LanguageException(
                    "shape",
                    $"{Value.ShapeText(left.Shape)} and {Value.ShapeText(right.Shape)} cannot be added.",
                    b.At,
                    "Use .+ to add a number to each element."
                );
        }

        Func<Term, Term, Term> operation = b.Kind switch
        {
            BinaryKind.Add or BinaryKind.ElementAdd => Add,
            BinaryKind.Subtract or BinaryKind.ElementSubtract => Subtract,
            BinaryKind.Multiply or BinaryKind.ElementMultiply => Multiply,
            BinaryKind.Divide or BinaryKind.ElementDivide => Divide,
            _ => Power,
        };
        return Elementwise(left, right, type, operation, b.At);
    }

    static Value Elementwise(Value left, Value right, ScalarType type, Func<Term, Term, Term> operation, Position at)
    {
        if (left.IsScalar && !right.IsScalar)
            return Map(right, type, t => operation(left.Elements[0], t));
        if (right.IsScalar && !left.IsScalar)
            return Map(left, type, t => operation(t, right.Elements[0]));
        SameShape(left, right, at);
        var elements = new Term[left.Elements.Length];
        for (var i = 0; i < elements.Length; i++)
            elements[i] = operation(left.Elements[i], right.Elements[i]);
        return new Value(type, left.Shape, elements);
    }

    public static void SameShape(Value left, Value right, Position at)
    {
        if (!left.Shape.AsSpan().SequenceEqual(right.Shape))
            throw new LanguageException(
                "shape",
                $"The sizes differ: {Value.ShapeText(left.Shape)} and {Value.ShapeText(right.Shape)}.",
                at
            );
    }

    /// <summary>Vector and matrix products (section 10.6.4): v·v is a scalar, v·M and M·v are vectors.</summary>
    Value Product(Value left, Value right, ScalarType type, Position at)
    {
        if (left.Shape.Length > 2 || right.Shape.Length > 2)
            throw new LanguageException("shape", "Products are for vectors and matrices.", at);
        var inner = left.Shape[^1];
        if (inner != right.Shape[0])
            throw new LanguageException("shape", $"The inner sizes of the product differ: {inner} and {right.Shape[0]}.", at);
        var rows = left.Shape.Length == 2 ? left.Shape[0] : 1;
        var columns = right.Shape.Length == 2 ? right.Shape[1] : 1;
        budget.Values((long)rows * columns * inner, at);
        var elements = new Term[rows * columns];
        for (var i = 0; i < rows; i++)
        for (var j = 0; j < columns; j++)
        {
            var products = new Term[inner];
            for (var k = 0; k < inner; k++)
                products[k] = Multiply(left.Elements[i * inner + k], right.Elements[k * columns + j]);
            elements[i * columns + j] = Join(products, Term.Zero, Add);
        }

        int[] shape =
        [
            .. left.Shape.Length == 2 ? [rows] : Array.Empty<int>(),
            .. right.Shape.Length == 2 ? [columns] : Array.Empty<int>(),
        ];
        return new Value(type, shape, elements);
    }

    Term Combined(Binary b, Term term) => Marked(term, OriginOf(b.At, OriginKind.Decision));

    Value BindRelation(Binary b)
    {
        var left = Bind(b.Left);
        var right = Bind(b.Right);
        var kind = b.Kind switch
        {
            BinaryKind.Equal => Operator.Equal,
            BinaryKind.NotEqual => Operator.NotEqual,
            BinaryKind.Less => Operator.Less,
            BinaryKind.LessOrEqual => Operator.LessOrEqual,
            BinaryKind.Greater => Operator.Greater,
            _ => Operator.GreaterOrEqual,
        };
        if (left.Type == ScalarType.String && right.Type == ScalarType.String && kind is Operator.Equal or Operator.NotEqual)
            return Value.Scalar(ScalarType.Boolean, Term.Of((left.Text == right.Text) == (kind == Operator.Equal)));
        var comparable = left.IsNumeric && right.IsNumeric || left.Type == right.Type && left.Enumeration == right.Enumeration;
        if (!comparable)
            throw new LanguageException("type", $"{Describe(left)} cannot be compared with {Describe(right)}.", b.At);
        var (l, r) = (left.ScalarTerm(b.Left.At), right.ScalarTerm(b.Right.At));
        var discrete =
            kind is Operator.Equal or Operator.NotEqual
            || !left.IsNumeric
            || left.Type == ScalarType.Integer && right.Type == ScalarType.Integer;
        if (l is ConstantTerm && r is ConstantTerm || discrete || withoutEvents)
            return Value.Scalar(ScalarType.Boolean, TermBuilder.Binary(kind, l, r));
        return Value.Scalar(ScalarType.Boolean, new RelationTerm(kind, l, r, scope.OriginOf(b.At, OriginKind.Condition)));
    }

    internal Origin? OriginOf(Position at, OriginKind kind) => scope.OriginOf(at, kind);

    Value BindConditional(Conditional c)
    {
        var otherwise = Bind(c.Otherwise);
        for (var i = c.Branches.Count - 1; i >= 0; i--)
        {
            var condition = Condition(c.Branches[i].Condition);
            var then = Bind(c.Branches[i].Value);
            if (then.IsNumeric != otherwise.IsNumeric || (!then.IsNumeric && then.Type != otherwise.Type))
                throw new LanguageException(
                    "type",
                    $"The branches differ: {Describe(then)} and {Describe(otherwise)}.",
                    c.Branches[i].Value.At
                );
            if (condition is ConstantTerm known)
            {
                if (known.Value != 0)
                    otherwise = then;
                continue;
            }

            if (then.Type == ScalarType.String)
                throw new LanguageException("type", "A string cannot depend on a condition.", c.At);
            SameShape(then, otherwise, c.Branches[i].Value.At);
            var elements = new Term[then.Elements.Length];
            var origin = OriginOf(c.Branches[i].Condition.At, OriginKind.Decision);
            for (var k = 0; k < elements.Length; k++)
                elements[k] = TermBuilder.Conditional(condition, then.Elements[k], otherwise.Elements[k], origin);
            otherwise = new Value(then.Type == otherwise.Type ? then.Type : ScalarType.Real, then.Shape, elements)
            {
                Enumeration = then.Enumeration,
            };
        }

        return otherwise;
    }

    static Value Stack(Value[] parts, Position at)
    {
        if (parts.Length == 0)
            return new Value(ScalarType.Real, [0], []);
        var type =
            parts.All(p => p.Type == parts[0].Type) ? parts[0].Type
            : parts.All(p => p.IsNumeric) ? ScalarType.Real
            : throw new LanguageException("type", "The elements of an array must be of one type.", at);
        if (type == ScalarType.String)
            throw new LanguageException("type", "Arrays of strings are not part of this version.", at);
        foreach (var part in parts)
            SameShape(parts[0], part, at);
        return new Value(type, [parts.Length, .. parts[0].Shape], [.. parts.SelectMany(p => p.Elements)])
        {
            Enumeration = parts[0].Enumeration,
        };
    }

    Value BindMatrix(MatrixLiteral m)
    {
        var rows = m.Rows.Select(r => Stack([.. r.Select(e => Value.Real(Numeric(e).ScalarTerm(e.At)))], m.At)).ToArray();
        return Stack(rows, m.At);
    }

    Value BindRange(RangeExpression r)
    {
        var first = Numeric(r.First);
        var last = Numeric(r.Last);
        var step = r.Step is null ? Value.Scalar(ScalarType.Integer, Term.One) : Numeric(r.Step);
        var (a, d, b) = (Constant(first, r.First), Constant(step, r.Step ?? r.First), Constant(last, r.Last));
        if (d == 0)
            throw new LanguageException("size", "The step of a range must not be zero.", r.At);
        var count = Math.Max(0, Math.Floor((b - a) / d + 1e-9) + 1);
        budget.Values((long)Math.Min(count, WorkBudget.MostValues + 1), r.At);
        if (count > 1e7)
            throw new LanguageException("size", "This range has more than ten million elements.", r.At);
        var integer = first.Type == ScalarType.Integer && step.Type == ScalarType.Integer;
        return new Value(
            integer ? ScalarType.Integer : ScalarType.Real,
            [(int)count],
            [.. Enumerable.Range(0, (int)count).Select(i => Term.Of(a + i * d))]
        );
    }

    double Constant(Value value, Expression at) => scope.Constant(value.ScalarTerm(at.At), at.At);

    Value BindComprehension(Comprehension c, int level)
    {
        // {f(i, j) for i in a, j in b} has the last iterator outermost (section 10.4.1.1).
        var (name, range) = c.Iterators[c.Iterators.Count - 1 - level];
        var (values, integer) = Range(range);
        var parts = values
            .Select(v =>
                WithIterator(name, v, integer, () => level + 1 < c.Iterators.Count ? BindComprehension(c, level + 1) : Bind(c.Element))
            )
            .ToArray();
        return Stack(parts, c.At);
    }
}
