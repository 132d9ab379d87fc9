using System.Globalization;
using System.Text;

namespace AnchorBend.Language.Syntax;

/// <summary>Prints expressions as text that parses back to the same tree.</summary>
public static class ExpressionText
{
    public static string Print(Expression expression)
    {
        var text = new StringBuilder();
        Write(text, expression, 0);
        return text.ToString();
    }

    /// <summary>A name as it is written in source: quoted where it is not a plain identifier.</summary>
    public static string Name(string name) =>
        Lexer.IsPlainIdentifier(name)
            ? name
            : "'" + name.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("'", "\\'", StringComparison.Ordinal) + "'";

    public static string Symbol(BinaryKind kind) =>
        kind switch
        {
            BinaryKind.Add => "+",
            BinaryKind.Subtract => "-",
            BinaryKind.Multiply => "*",
            BinaryKind.Divide => "/",
            BinaryKind.Power => "^",
            BinaryKind.ElementAdd => ".+",
            BinaryKind.ElementSubtract => ".-",
            BinaryKind.ElementMultiply => ".*",
            BinaryKind.ElementDivide => "./",
            BinaryKind.ElementPower => ".^",
            BinaryKind.Equal => "==",
            BinaryKind.NotEqual => "<>",
            BinaryKind.Less => "<",
            BinaryKind.LessOrEqual => "<=",
            BinaryKind.Greater => ">",
            BinaryKind.GreaterOrEqual => ">=",
            BinaryKind.And => "and",
            _ => "or",
        };

    /// <summary>Binding strength: higher binds tighter.</summary>
    public static int Precedence(BinaryKind kind) =>
        kind switch
        {
            BinaryKind.Or => 1,
            BinaryKind.And => 2,
            BinaryKind.Equal
            or BinaryKind.NotEqual
            or BinaryKind.Less
            or BinaryKind.LessOrEqual
            or BinaryKind.Greater
            or BinaryKind.GreaterOrEqual => 4,
            BinaryKind.Add or BinaryKind.Subtract or BinaryKind.ElementAdd or BinaryKind.ElementSubtract => 5,
            BinaryKind.Multiply or BinaryKind.Divide or BinaryKind.ElementMultiply or BinaryKind.ElementDivide => 6,
            _ => 8,
        };

    static void Write(StringBuilder text, Expression expression, int context)
    {
        switch (expression)
        {
            case NumberLiteral n:
                text.Append(n.Value.ToString("R", CultureInfo.InvariantCulture));
                if (!n.IsInteger && n.Value == Math.Floor(n.Value) && Math.Abs(n.Value) < 1e15)
                    text.Append(".0");
                break;
            case BooleanLiteral b:
                text.Append(b.Value ? "true" : "false");
                break;
            case StringLiteral s:
                text.Append('"')
                    .Append(s.Value.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal))
                    .Append('"');
                break;
            case Reference r:
                WriteReference(text, r);
                break;
            case Unary u:
                Bracketed(text, context > (u.Kind == UnaryKind.Not ? 3 : 5), () =>
                {
                    text.Append(
                        u.Kind switch
                        {
                            UnaryKind.Not => "not ",
                            UnaryKind.Minus => "-",
                            _ => "+",
                        }
                    );
                    Write(text, u.Operand, u.Kind == UnaryKind.Not ? 4 : 6);
                });
                break;
            case Binary b:
                var level = Precedence(b.Kind);
                Bracketed(text, context > level, () =>
                {
                    Write(text, b.Left, level is 8 or 4 ? level + 1 : level);
                    text.Append(level >= 8 ? Symbol(b.Kind) : $" {Symbol(b.Kind)} ");
                    Write(text, b.Right, level + 1);
                });
                break;
            case Call c:
                text.Append(c.Function).Append('(');
                Separated(text, c.Arguments, a => Write(text, a, 0));
                foreach (var (name, value) in c.Named)
                {
                    if (!text.ToString().EndsWith('('))
                        text.Append(", ");
                    text.Append(Name(name)).Append(" = ");
                    Write(text, value, 0);
                }

                text.Append(')');
                break;
            case Conditional c:
                Bracketed(text, context > 0, () =>
                {
                    for (var i = 0; i < c.Branches.Count; i++)
                    {
                        text.Append(i == 0 ? "if " : " elseif ");
                        Write(text, c.Branches[i].Condition, 0);
                        text.Append(" then ");
                        Write(text, c.Branches[i].Value, 0);
                    }

                    text.Append(" else ");
                    Write(text, c.Otherwise, 0);
                });
                break;
            case ArrayLiteral a:
                text.Append('{');
                Separated(text, a.Elements, e => Write(text, e, 0));
                text.Append('}');
                break;
            case MatrixLiteral m:
                text.Append('[');
                for (var i = 0; i < m.Rows.Count; i++)
                {
                    if (i > 0)
                        text.Append("; ");
                    Separated(text, m.Rows[i], e => Write(text, e, 0));
                }

                text.Append(']');
                break;
            case RangeExpression r:
                Bracketed(text, context > 0, () =>
                {
                    Write(text, r.First, 1);
                    text.Append(':');
                    if (r.Step is not null)
                    {
                        Write(text, r.Step, 1);
                        text.Append(':');
                    }

                    Write(text, r.Last, 1);
                });
                break;
            case Comprehension c:
                text.Append('{');
                Write(text, c.Element, 0);
                text.Append(" for ");
                Separated(text, c.Iterators, i =>
                {
                    text.Append(Name(i.Name)).Append(" in ");
                    Write(text, i.Range, 0);
                });
                text.Append('}');
                break;
            case WholeDimension:
                text.Append(':');
                break;
            case EndOfDimension:
                text.Append("end");
                break;
            case Quantity q:
                Write(text, q.Value, 0);
                text.Append(' ').Append(q.Unit.Symbol);
                break;
        }
    }

    static void WriteReference(StringBuilder text, Reference reference)
    {
        for (var i = 0; i < reference.Parts.Count; i++)
        {
            if (i > 0)
                text.Append('.');
            text.Append(Name(reference.Parts[i].Name));
            if (reference.Parts[i].Subscripts.Count == 0)
                continue;
            text.Append('[');
            Separated(text, reference.Parts[i].Subscripts, s => Write(text, s, 0));
            text.Append(']');
        }
    }

    static void Separated<T>(StringBuilder text, IReadOnlyList<T> items, Action<T> write)
    {
        for (var i = 0; i < items.Count; i++)
        {
            if (i > 0)
                text.Append(", ");
            write(items[i]);
        }
    }

    static void Bracketed(StringBuilder text, bool needed, Action write)
    {
        if (needed)
            text.Append('(');
        write();
        if (needed)
            text.Append(')');
    }
}
