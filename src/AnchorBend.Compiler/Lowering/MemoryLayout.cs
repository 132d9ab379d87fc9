using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Lowering;

/// <summary>
/// Where values lie in memory: first one place a variable by its index, then the values before the event of discrete variables, the
/// held truth of relations, held abscissas of tables read along time, hoisted terms of parameters, and tables.
/// </summary>
public sealed class MemoryLayout
{
    public MemoryLayout(ExecutionPlan plan)
    {
        PreviousBase = plan.Model.Variables.Count;
        RelationBase = PreviousBase + plan.Discretes.Length;
        AbscissaBase = RelationBase + plan.Relations.Count;
        HoistBase = AbscissaBase + plan.HeldAbscissas.Count;
    }

    public int PreviousBase { get; }

    public int RelationBase { get; }

    public int AbscissaBase { get; }

    public int HoistBase { get; }

    /// <summary>Terms of parameters that are computed once a run, in place order from <see cref="HoistBase"/>.</summary>
    public List<Term> Hoisted { get; } = [];

    /// <summary>Whether terms of parameters get places at all; otherwise they stay where they stand.</summary>
    public bool Hoists { get; init; } = true;

    readonly Dictionary<string, int> hoistPlace = [];

    public int Size => HoistBase + Hoisted.Count;

    /// <summary>Places for values of the code's own; they begin as 0.</summary>
    /// <returns>The first of them.</returns>
    public int Reserve(int count)
    {
        if (isSealed)
            throw new InvalidOperationException("memory cannot grow any more");
        var first = Size;
        for (var i = 0; i < count; i++)
            Hoisted.Add(Term.Zero);
        return first;
    }

    bool isSealed;

    /// <summary>From now on memory does not grow any more.</summary>
    internal void Seal() => isSealed = true;

    /// <summary>The place of a term of parameters; −1 when it has none and memory cannot grow any more.</summary>
    public int Hoist(Term term)
    {
        var key = term.Key;
        if (hoistPlace.TryGetValue(key, out var place))
            return place;
        if (isSealed || !Hoists)
            return -1;
        place = HoistBase + Hoisted.Count;
        Hoisted.Add(term);
        return hoistPlace[key] = place;
    }

    /// <summary>The place of the first of several terms that must lie one behind another.</summary>
    public int HoistRow(ReadOnlySpan<Term> terms)
    {
        var text = new System.Text.StringBuilder("row");
        foreach (var term in terms)
            text.Append('|').Append(term.Key);
        var key = text.ToString();
        if (hoistPlace.TryGetValue(key, out var place))
            return place;
        if (isSealed)
            throw new InvalidOperationException("memory cannot grow any more");
        var first = HoistBase + Hoisted.Count;
        foreach (var term in terms)
            Hoisted.Add(term);
        return hoistPlace[key] = first;
    }
}
