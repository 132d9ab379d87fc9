namespace AnchorBend.Language.Terms;

/// <summary>
/// Evaluates terms by walking them: for parameters, linearisation and diagnosis, not for the inner loop. Its arithmetic is the one
/// that generated code must match bit for bit.
/// </summary>
public sealed class TermEvaluator(Func<int, double> variable, Func<int, double>? previous = null, Func<int, double>? delayed = null)
{
    public double Evaluate(Term term)
    {
        switch (term)
        {
            case ConstantTerm c:
                return c.Value;
            case VariableTerm v:
                return variable(v.Index);
            case PreviousTerm p:
                return previous is null ? variable(p.Index) : previous(p.Index);
            case OperationTerm o when o.Operands.Length == 1:
                return Apply(o.Kind, Evaluate(o.Left), 0);
            case OperationTerm { Kind: Operator.And } o:
                return Evaluate(o.Left) != 0 && Evaluate(o.Right) != 0 ? 1 : 0;
            case OperationTerm { Kind: Operator.Or } o:
                return Evaluate(o.Left) != 0 || Evaluate(o.Right) != 0 ? 1 : 0;
            case OperationTerm o:
                return Apply(o.Kind, Evaluate(o.Left), Evaluate(o.Right));
            case RelationTerm r:
                return Apply(r.Kind, Evaluate(r.Left), Evaluate(r.Right));
            case ConditionalTerm c:
                return Evaluate(c.Condition) != 0 ? Evaluate(c.Then) : Evaluate(c.Otherwise);
            case TableTerm t:
                var n = t.Count;
                var data = new double[2 * n];
                for (var i = 0; i < 2 * n; i++)
                    data[i] = Evaluate(t.Operands[1 + i]);
                return TableLookup.Evaluate(Evaluate(t.Abscissa), data.AsSpan(0, n), data.AsSpan(n), t.Kind, t.Slope);
            case CallTerm f:
                double Operand(int i) => i < f.Operands.Length ? Evaluate(f.Operands[i]) : 0;
                return f.Function.Value(Operand(0), Operand(1), Operand(2), Operand(3));
            case DelayTerm d:
                return delayed is null ? throw new InvalidOperationException("no delay history here") : delayed(d.Delay);
            default:
                throw new InvalidOperationException($"unknown term {term.GetType().Name}");
        }
    }

    /// <summary>One operation on numbers; <paramref name="b"/> is ignored by operations of one operand.</summary>
    public static double Apply(Operator kind, double a, double b) =>
        kind switch
        {
            Operator.Add => a + b,
            Operator.Subtract => a - b,
            Operator.Multiply => a * b,
            Operator.Divide => a / b,
            Operator.Power => Power(a, b),
            Operator.Minimum => a < b ? a : b,
            Operator.Maximum => a > b ? a : b,
            Operator.Atan2 => Math.Atan2(a, b),
            Operator.Modulo => Modulo(a, b),
            Operator.Remainder => Remainder(a, b),
            Operator.IntegerDivide => Math.Truncate(a / b),
            Operator.Less => a < b ? 1 : 0,
            Operator.LessOrEqual => a <= b ? 1 : 0,
            Operator.Greater => a > b ? 1 : 0,
            Operator.GreaterOrEqual => a >= b ? 1 : 0,
            Operator.Equal => a == b ? 1 : 0,
            Operator.NotEqual => a != b ? 1 : 0,
            Operator.And => a != 0 && b != 0 ? 1 : 0,
            Operator.Or => a != 0 || b != 0 ? 1 : 0,
            Operator.Negate => -a,
            Operator.Not => a == 0 ? 1 : 0,
            Operator.Absolute => Math.Abs(a),
            Operator.Sign => Sign(a),
            Operator.Floor => Math.Floor(a),
            Operator.Ceiling => Math.Ceiling(a),
            Operator.SquareRoot => Math.Sqrt(a),
            Operator.Sin => Math.Sin(a),
            Operator.Cos => Math.Cos(a),
            Operator.Tan => Math.Tan(a),
            Operator.Asin => Math.Asin(a),
            Operator.Acos => Math.Acos(a),
            Operator.Atan => Math.Atan(a),
            Operator.Sinh => Math.Sinh(a),
            Operator.Cosh => Math.Cosh(a),
            Operator.Tanh => Math.Tanh(a),
            Operator.Exp => Math.Exp(a),
            Operator.Log => Math.Log(a),
            Operator.Log10 => Math.Log10(a),
            _ => throw new InvalidOperationException($"unknown operator {kind}"),
        };

    /// <summary>The largest whole exponent that products serve better than logarithms.</summary>
    public const int LargestProduct = 16;

    /// <summary>
    /// Whole exponents up to 16 by products, others by the platform's power function. From the highest bit down: square, and multiply
    /// where the bit is set (Knuth, "The Art of Computer Programming" 2, section 4.6.3); generated code does the same.
    /// </summary>
    public static double Power(double a, double b)
    {
        if (b != Math.Floor(b) || Math.Abs(b) > LargestProduct)
            return Math.Pow(a, b);
        var size = (int)Math.Abs(b);
        if (size == 0)
            return 1;
        var result = a;
        for (var bit = System.Numerics.BitOperations.Log2((uint)size) - 1; bit >= 0; bit--)
        {
            result *= result;
            if ((size >> bit & 1) != 0)
                result *= a;
        }

        return b < 0 ? 1 / result : result;
    }

    /// <summary><c>mod(a, b) = a − floor(a/b)·b</c> (Modelica Language Specification 3.6, section 3.7.2).</summary>
    public static double Modulo(double a, double b) => a - Math.Floor(a / b) * b;

    /// <summary><c>rem(a, b) = a − div(a, b)·b</c>.</summary>
    public static double Remainder(double a, double b) => a - Math.Truncate(a / b) * b;

    public static double Sign(double a) =>
        a > 0 ? 1
        : a < 0 ? -1
        : 0;
}
