using System.Globalization;
using System.Text;

namespace AnchorBend.Language.Terms;

/// <summary>Prints terms in the equation language's own syntax, with a name for each variable.</summary>
public static class TermText
{
    public static string Print(Term term, Func<int, string> name)
    {
        var text = new StringBuilder();
        Write(text, term, name, 0);
        return text.ToString();
    }

    /// <summary>The function name of an operator written as a call; null for the others.</summary>
    public static string? Function(Operator kind) =>
        kind switch
        {
            Operator.Minimum => "min",
            Operator.Maximum => "max",
            Operator.Atan2 => "atan2",
            Operator.Modulo => "mod",
            Operator.Remainder => "rem",
            Operator.IntegerDivide => "div",
            Operator.Absolute => "abs",
            Operator.Sign => "sign",
            Operator.Floor => "floor",
            Operator.Ceiling => "ceil",
            Operator.SquareRoot => "sqrt",
            Operator.Sin => "sin",
            Operator.Cos => "cos",
            Operator.Tan => "tan",
            Operator.Asin => "asin",
            Operator.Acos => "acos",
            Operator.Atan => "atan",
            Operator.Sinh => "sinh",
            Operator.Cosh => "cosh",
            Operator.Tanh => "tanh",
            Operator.Exp => "exp",
            Operator.Log => "log",
            Operator.Log10 => "log10",
            _ => null,
        };

    public static string Symbol(Operator kind) =>
        kind switch
        {
            Operator.Add => "+",
            Operator.Subtract => "-",
            Operator.Multiply => "*",
            Operator.Divide => "/",
            Operator.Power => "^",
            Operator.Less => "<",
            Operator.LessOrEqual => "<=",
            Operator.Greater => ">",
            Operator.GreaterOrEqual => ">=",
            Operator.Equal => "==",
            Operator.NotEqual => "<>",
            Operator.And => "and",
            Operator.Or => "or",
            _ => kind.ToString(),
        };

    static int Level(Operator kind) =>
        kind switch
        {
            Operator.Or => 1,
            Operator.And => 2,
            Operator.Add or Operator.Subtract => 5,
            Operator.Multiply or Operator.Divide => 6,
            Operator.Power => 8,
            _ => 4,
        };

    static void Write(StringBuilder text, Term term, Func<int, string> name, int context)
    {
        switch (term)
        {
            case ConstantTerm c:
                var number = c.Value.ToString("R", CultureInfo.InvariantCulture);
                text.Append(c.Value < 0 && context > 5 ? $"({number})" : number);
                break;
            case VariableTerm v:
                text.Append(name(v.Index));
                break;
            case PreviousTerm p:
                text.Append("pre(").Append(name(p.Index)).Append(')');
                break;
            case DelayTerm d:
                text.Append("delayed#").Append(d.Delay);
                break;
            case SlotTerm s:
                text.Append("slot#").Append(s.Slot);
                break;
            case OperandTerm a:
                text.Append("given#").Append(a.Number);
                break;
            case SequenceTerm q:
                text.Append(CultureInfo.InvariantCulture, $"steps({q.Operands.Length} values, {q.Sequence.Initial.Count} slots)");
                break;
            case SequenceResultTerm q:
                Write(text, q.After, name, 0);
                text.Append('#').Append(q.Slot);
                break;
            case OperationTerm { Kind: Operator.Negate or Operator.Not } o:
                var open = context > 5;
                if (open)
                    text.Append('(');
                text.Append(o.Kind == Operator.Negate ? "-" : "not ");
                Write(text, o.Left, name, 6);
                if (open)
                    text.Append(')');
                break;
            case OperationTerm o when Function(o.Kind) is { } function:
                text.Append(function).Append('(');
                Write(text, o.Left, name, 0);
                if (o.Operands.Length > 1)
                {
                    text.Append(", ");
                    Write(text, o.Right, name, 0);
                }

                text.Append(')');
                break;
            case OperationTerm o:
                Infix(text, o.Kind, o.Left, o.Right, name, context);
                break;
            case RelationTerm r:
                Infix(text, r.Kind, r.Left, r.Right, name, context);
                break;
            case ConditionalTerm c:
                if (context > 0)
                    text.Append('(');
                text.Append("if ");
                Write(text, c.Condition, name, 0);
                text.Append(" then ");
                Write(text, c.Then, name, 0);
                text.Append(" else ");
                Write(text, c.Otherwise, name, 0);
                if (context > 0)
                    text.Append(')');
                break;
            case CallTerm f:
                text.Append(f.Function.Name);
                var before = '(';
                foreach (var operand in f.Operands)
                {
                    text.Append(before == '(' ? "(" : ", ");
                    Write(text, operand, name, 0);
                    before = ',';
                }

                text.Append(')');
                break;
            case TableTerm t:
                text.Append(t.Slope ? "interpolateSlope(" : "interpolate(");
                Write(text, t.Abscissa, name, 0);
                text.Append(CultureInfo.InvariantCulture, $", {t.Count} knots)");
                break;
        }
    }

    static void Infix(StringBuilder text, Operator kind, Term left, Term right, Func<int, string> name, int context)
    {
        var level = Level(kind);
        if (context > level)
            text.Append('(');
        Write(text, left, name, level is 8 or 4 ? level + 1 : level);
        text.Append(level == 8 ? "^" : $" {Symbol(kind)} ");
        Write(text, right, name, level + 1);
        if (context > level)
            text.Append(')');
    }
}
