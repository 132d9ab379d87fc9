using System.Security.Cryptography;
using System.Text;

namespace AnchorBend.Language.Terms;

/// <summary>A step of a sequence.</summary>
public abstract record Step
{
    public Origin? Origin { get; init; }
}

/// <summary>Gives a slot a value.</summary>
public sealed record SetStep(int Slot, Term Value) : Step;

/// <summary>Runs the one steps or the others.</summary>
public sealed record ChoiceStep(Term Condition, IReadOnlyList<Step> Then, IReadOnlyList<Step> Otherwise) : Step;

/// <summary>
/// Steps of an algorithm that runs at events: they are kept as they are, instead of one term for each value, whose size grows with the
/// product of what is set and what decides. Values are in slots; whatever the steps read from outside are operands of the term that runs
/// them, so passes over terms see and rewrite these and nothing else.
/// </summary>
/// <param name="steps">Their terms hold <see cref="SlotTerm"/>s and <see cref="OperandTerm"/>s as leaves.</param>
/// <param name="initial">For each slot the operand that it begins with; −1 for one that is set before it is read.</param>
public sealed class Sequence(IReadOnlyList<Step> steps, IReadOnlyList<int> initial)
{
    public IReadOnlyList<Step> Steps { get; } = steps;

    public IReadOnlyList<int> Initial { get; } = initial;

    /// <summary>All terms in the steps.</summary>
    public IEnumerable<Term> Terms => In(Steps);

    static IEnumerable<Term> In(IReadOnlyList<Step> steps) =>
        steps.SelectMany(s =>
            s switch
            {
                SetStep set => [set.Value],
                ChoiceStep choice => In(choice.Then).Concat(In(choice.Otherwise)).Prepend(choice.Condition),
                _ => (IEnumerable<Term>)[],
            }
        );

    string? key;

    /// <summary>A text that sequences share only where they are the same.</summary>
    public string Key => key ??= Hashed();

    string Hashed()
    {
        var text = new StringBuilder();
        Write(Steps);
        foreach (var operand in Initial)
            text.Append(operand).Append(' ');
        return Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(text.ToString())));

        void Write(IReadOnlyList<Step> steps)
        {
            foreach (var step in steps)
                switch (step)
                {
                    case SetStep set:
                        text.Append('=').Append(set.Slot).Append(' ');
                        TermKey.Write(text, set.Value);
                        break;
                    case ChoiceStep choice:
                        text.Append('?');
                        TermKey.Write(text, choice.Condition);
                        text.Append('{');
                        Write(choice.Then);
                        text.Append('|');
                        Write(choice.Otherwise);
                        text.Append('}');
                        break;
                }
        }
    }
}

/// <summary>The present value of a slot; only in the steps of a sequence.</summary>
public sealed class SlotTerm(int slot) : Term
{
    public int Slot { get; } = slot;

    public override ReadOnlySpan<Term> Operands => [];
}

/// <summary>An operand of the term that runs the sequence; only in the steps of one.</summary>
public sealed class OperandTerm(int number) : Term
{
    public int Number { get; } = number;

    public override ReadOnlySpan<Term> Operands => [];
}

/// <summary>Runs a sequence; its results are <see cref="SequenceResultTerm"/>s, and its own value says nothing.</summary>
public sealed class SequenceTerm(Sequence sequence, Term[] operands) : Term
{
    public Sequence Sequence { get; } = sequence;

    public override ReadOnlySpan<Term> Operands => operands;
}

/// <summary>What a slot of a sequence ends with.</summary>
/// <param name="after">The variable that the term running the sequence determines.</param>
public sealed class SequenceResultTerm(Sequence sequence, int slot, Term after) : Term
{
    readonly Term[] operands = [after];

    public Sequence Sequence { get; } = sequence;

    public int Slot { get; } = slot;

    public Term After => operands[0];

    public override ReadOnlySpan<Term> Operands => operands;
}
