using System.Globalization;
using System.Text;

namespace AnchorBend.Language.Terms;

/// <summary>
/// A term as a text that no other term has: equal texts mean equal terms in every respect (events or none, all numbers of a table, bits of
/// constants). What is kept once for equal terms is found by it. <see cref="TermText"/> is for people and says less.
/// </summary>
public static class TermKey
{
    public static string Of(Term term)
    {
        var text = new StringBuilder();
        Write(text, term);
        return text.ToString();
    }

    /// <summary>Appends a term in prefix form.</summary>
    public static void Write(StringBuilder text, Term term)
    {
        switch (term)
        {
            case ConstantTerm c:
                // Zero has two signs that print alike.
                if (c.Value == 0 && double.IsNegative(c.Value))
                    text.Append("-0");
                else
                    text.Append(CultureInfo.InvariantCulture, $"{c.Value:R}");
                return;
            case VariableTerm v:
                text.Append('v').Append(v.Index);
                return;
            case PreviousTerm p:
                text.Append('p').Append(p.Index);
                return;
            case SlotTerm s:
                text.Append('l').Append(s.Slot);
                return;
            case OperandTerm a:
                text.Append('a').Append(a.Number);
                return;
            case SequenceTerm q:
                text.Append('q').Append(q.Sequence.Key);
                break;
            case SequenceResultTerm q:
                text.Append('x').Append(q.Slot).Append(':').Append(q.Sequence.Key);
                break;
            case DelayTerm d:
                text.Append('d').Append(d.Delay);
                break;
            case OperationTerm o:
                text.Append('o').Append((int)o.Kind);
                break;
            case RelationTerm r:
                text.Append('r').Append((int)r.Kind);
                break;
            case ConditionalTerm:
                text.Append('i');
                break;
            case CallTerm f:
                text.Append('f').Append(f.Function.Number);
                break;
            case TableTerm t:
                text.Append(t.Slope ? 's' : 't').Append((int)t.Kind);
                break;
        }

        var separator = '(';
        foreach (var operand in term.Operands)
        {
            text.Append(separator);
            Write(text, operand);
            separator = ' ';
        }

        if (separator == ' ')
            text.Append(')');
    }
}
