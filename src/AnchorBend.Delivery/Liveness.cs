using AnchorBend.Compiler.Lowering;
using AnchorBend.Language;

namespace AnchorBend.Delivery;

/// <summary>
/// What outputs come from, over steps as well: a value that only its own next value reads is dead (Aho, Lam, Sethi, Ullman: Compilers,
/// second edition, section 9.2.5; here values from before lead on to the variables that they are of).
/// </summary>
sealed class Liveness
{
    readonly HashSet<int> places = [];

    /// <summary>Places that others read, relations that are decided here among them.</summary>
    readonly HashSet<int> seen = [];

    /// <summary>Statements on whose way relations are decided that others read.</summary>
    readonly HashSet<Statement> deciding = new(ReferenceEqualityComparer.Instance);
    readonly HashSet<int> states = [];
    readonly Dictionary<(int Routine, int Local), int> stands = [];
    readonly Dictionary<(int Routine, int Local), int> slopes = [];
    readonly Dictionary<(int Routine, int Local), Code> lets = [];
    readonly HashSet<(int, int)> locals = [];
    readonly Func<int, int> ofBefore;
    readonly Func<int, bool> isDecided;

    /// <param name="bodies">Statements of all functions that live on what is seen after a step.</param>
    /// <param name="seenPlaces">Places of memory that are read after a step, or by functions that are not among these.</param>
    /// <param name="seenStates">Places of states that are, or whose derivatives are.</param>
    /// <param name="ofBefore">The variable that a place holds the value before of; the place itself where it holds none.</param>
    /// <param name="isDecided">Whether a place holds a relation, or where a table was read.</param>
    public Liveness(
        IReadOnlyList<CBody> bodies,
        IEnumerable<int> seenPlaces,
        IEnumerable<int> seenStates,
        Func<int, int> ofBefore,
        Func<int, bool> isDecided
    )
    {
        (this.ofBefore, this.isDecided) = (ofBefore, isDecided);
        foreach (var place in seenPlaces)
            Read(place);
        seen.UnionWith(places);
        states.UnionWith(seenStates);
        foreach (var (routine, statement) in bodies.SelectMany(b => b.Statements))
            Note(routine, statement);
        int before;
        do
        {
            WorkBudget.Current.Check();
            before = places.Count + states.Count + locals.Count;
            foreach (var (routine, statement) in bodies.SelectMany(b => b.Statements))
                Visit(routine, statement);
        } while (places.Count + states.Count + locals.Count != before);
    }

    /// <summary>States that something comes from.</summary>
    public IReadOnlySet<int> States => states;

    /// <summary>A function without what is dead.</summary>
    public CBody Of(CBody body) => new([.. body.Statements.SelectMany(s => Kept(s.Routine, s.Statement).Select(k => (s.Routine, k)))]);

    void Note(int routine, Statement statement)
    {
        foreach (var code in CFunctions.All(statement))
            if (code is LetCode let)
                lets[(routine, let.Local)] = let.Value;
            else if (code is PlaceCode { Space: Space.Memory } place && isDecided(place.Index) && seen.Contains(place.Index))
                deciding.Add(statement);
        switch (statement)
        {
            case StoreStatement { To.Space: Space.Memory, Local: >= 0 } s:
                stands[(routine, s.Local)] = s.To.Index;
                return;
            case StoreStatement { To.Space: Space.Derivatives, Local: >= 0 } s:
                slopes[(routine, s.Local)] = s.To.Index;
                return;
            case LocalStatement l:
                lets[(routine, l.Local)] = l.Value;
                return;
            case IfStatement i:
                foreach (var inner in i.Then.Concat(i.Otherwise))
                    Note(routine, inner);
                return;
        }
    }

    bool IsLive(int routine, Statement statement) =>
        deciding.Contains(statement)
        || statement switch
        {
            StoreStatement { To.Space: Space.Memory } s => places.Contains(s.To.Index),
            StoreStatement { To.Space: Space.Derivatives } s => states.Contains(s.To.Index),
            LocalStatement l => locals.Contains((routine, l.Local)),
            IfStatement i => i.Then.Concat(i.Otherwise).Any(inner => IsLive(routine, inner)),
            CopyStatement c => Enumerable.Range(c.To, c.Count).Any(places.Contains),
            _ => true,
        };

    void Visit(int routine, Statement statement)
    {
        if (!IsLive(routine, statement))
            return;
        switch (statement)
        {
            case IfStatement i:
                foreach (var code in CFunctions.All(i.Condition))
                    Read(routine, code);
                foreach (var inner in i.Then.Concat(i.Otherwise))
                    Visit(routine, inner);
                return;
            case CopyStatement c:
                for (var k = 0; k < c.Count; k++)
                    if (places.Contains(c.To + k))
                        Read(c.From + k);
                return;
            default:
                foreach (var code in CFunctions.All(statement))
                    Read(routine, code);
                return;
        }
    }

    void Read(int place)
    {
        places.Add(place);
        places.Add(ofBefore(place));
    }

    void Read(int routine, Code code)
    {
        if (code is PlaceCode { Space: Space.Memory } memory)
            Read(memory.Index);
        else if (code is PlaceCode place)
            states.Add(place.Index);
        else if (code is LocalCode local)
        {
            if (stands.TryGetValue((routine, local.Local), out var variable))
                Read(variable);
            if (slopes.TryGetValue((routine, local.Local), out var slope))
                states.Add(slope);
            if (locals.Add((routine, local.Local)) && lets.TryGetValue((routine, local.Local), out var value))
                foreach (var inner in CFunctions.All(value))
                    Read(routine, inner);
        }
    }

    IEnumerable<Statement> Kept(int routine, Statement statement)
    {
        if (statement is IfStatement i && IsLive(routine, i))
            return
            [
                i with
                {
                    Then = [.. i.Then.SelectMany(inner => Kept(routine, inner))],
                    Otherwise = [.. i.Otherwise.SelectMany(inner => Kept(routine, inner))],
                },
            ];
        if (statement is CopyStatement c && c.Count > 1)
            return Enumerable
                .Range(0, c.Count)
                .Where(k => places.Contains(c.To + k))
                .Select(k => new CopyStatement(c.To + k, c.From + k, 1));
        if (IsLive(routine, statement))
            return [statement];
        // What others take from it stays.
        return LetsBefore.Of(CFunctions.All(statement).OfType<LetCode>().Where(l => locals.Contains((routine, l.Local))));
    }
}
