using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Lowering;

/// <summary>
/// Subterms that a method would compute more than once, found by value numbering (Aho, Lam, Sethi and Ullman, "Compilers", section 6.1):
/// each is kept in a local where it is first met. Relations, delays, tables and previous values, and what contains them, are left alone.
/// </summary>
/// <param name="leastCost">The cost from which on a subterm is worth a local; an addition costs 1.</param>
sealed class CommonSubexpressions(int leastCost)
{
    /// <summary>The least cost in the equations of a model: functions and divisions. Cheaper ones the just-in-time compiler finds
    /// itself.</summary>
    public const int Dear = 8;

    /// <summary>The least cost in derivatives, which say everything over and over again.</summary>
    public const int Cheap = 3;

    readonly record struct Key(int Kind, int A, int B, int C, double Value);

    const int Constant = -1,
        Variable = -2,
        Conditional = -3,
        Pair = -4;

    /// <summary>Calls have kinds from here on, by their functions.</summary>
    const int Call = 1 << 16;

    /// <summary>The number of a term whose value is not shared.</summary>
    const int None = -1;

    readonly Dictionary<Key, int> numbers = [];
    readonly Dictionary<Term, int> numberOf = new(ReferenceEqualityComparer.Instance);
    readonly List<(int Cost, int Uses)> known = [];
    readonly Dictionary<int, int> locals = [];

    /// <summary>Counts the subterms of all terms of a method.</summary>
    public void Add(Term term)
    {
        if (leastCost >= Dear && !HasDear(term))
            return;
        Number(term);
        Count(term);
    }

    /// <summary>Whether a term occurs more than once, and the local with its value once there is one.</summary>
    public bool Contains(Term term, out int number, out int? local)
    {
        local = null;
        if (!numberOf.TryGetValue(term, out number) || number == None || known[number].Uses < 2 || known[number].Cost < leastCost)
            return false;
        local = locals.TryGetValue(number, out var kept) ? kept : null;
        return true;
    }

    public void Keep(int number, int local) => locals[number] = local;

    /// <summary>What was computed so far is not at hand any more.</summary>
    public void Forget() => locals.Clear();

    static bool HasDear(Term term)
    {
        if (CostOf(term) >= Dear)
            return true;
        foreach (var operand in term.Operands)
            if (HasDear(operand))
                return true;
        return false;
    }

    /// <summary>What one operation costs without its operands.</summary>
    static int CostOf(Term term) =>
        term switch
        {
            OperationTerm { Kind: Operator.Power, Right: ConstantTerm { Value: var n } } when n == Math.Floor(n) && Math.Abs(n) <= 16 => n
            < 0
                ? Dear
                : 2,
            OperationTerm
            {
                Kind: Operator.Divide
                    or Operator.Power
                    or Operator.Atan2
                    or Operator.Modulo
                    or Operator.Remainder
                    or Operator.IntegerDivide
                    or >= Operator.SquareRoot
            } => Dear,
            CallTerm => Dear,
            OperationTerm or ConditionalTerm => 1,
            _ => 0,
        };

    int Number(Term term)
    {
        if (numberOf.TryGetValue(term, out var seen))
            return seen;
        var operands = term.Operands;
        Span<int> below = [0, 0, 0, 0];
        var cost = CostOf(term);
        var isShared = term is ConstantTerm or VariableTerm or OperationTerm or ConditionalTerm or CallTerm;
        for (var i = 0; i < operands.Length; i++)
        {
            var number = Number(operands[i]);
            if (number == None)
                isShared = false;
            if (!isShared)
                continue;
            below[i] = number;
            cost += known[number].Cost;
        }

        if (!isShared)
            return numberOf[term] = None;
        var key = term switch
        {
            ConstantTerm c => new Key(Constant, double.IsNegative(c.Value) ? 1 : 0, 0, 0, c.Value),
            VariableTerm v => new Key(Variable, v.Index, 0, 0, 0),
            OperationTerm o => new Key((int)o.Kind, below[0], below[1], operands.Length, 0),
            CallTerm f => new Key(Call + f.Function.Number, below[0], below[1], NumberOf(new Key(Pair, below[2], below[3], 0, 0), 0), 0),
            _ => new Key(Conditional, below[0], below[1], below[2], 0),
        };
        return numberOf[term] = NumberOf(key, cost);
    }

    int NumberOf(Key key, int cost)
    {
        if (numbers.TryGetValue(key, out var same))
            return same;
        numbers[key] = known.Count;
        known.Add((cost, 0));
        return known.Count - 1;
    }

    void Count(Term term)
    {
        var number = numberOf[term];
        if (number != None)
        {
            var (cost, uses) = known[number];
            known[number] = (cost, uses + 1);
            // What it consists of is not computed again.
            if (uses > 0 && cost >= leastCost)
                return;
        }

        foreach (var operand in term.Operands)
            Count(operand);
    }
}
