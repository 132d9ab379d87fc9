using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Written;

/// <summary>
/// Whether conditions can hold at one time. A condition is brought to a disjunction of conjunctions of atoms: comparisons of one
/// term with a number, words, Booleans. Comparisons of two terms count as their difference with zero. What is none of these is an
/// atom that may be either. A conjunction holds where the intervals and sets of each term intersect (decided over the reals, whole
/// numbers and truth values).
/// </summary>
sealed partial class GuardDecision
{
    /// <summary>Values of words.</summary>
    readonly Dictionary<string, double> words = [];

    /// <summary>Names of whole numbers; those of words with these.</summary>
    readonly Dictionary<string, IReadOnlyList<string>?> whole = [];

    readonly Dictionary<string, string> units = [];

    /// <summary>Decides over the names of a definition.</summary>
    public GuardDecision(IEnumerable<NameNode> names)
    {
        foreach (var name in names)
        {
            var listed = Words.Of(name.Type);
            for (var i = 0; i < listed.Count; i++)
                words[listed[i]] = i + 1;
            if (listed.Count > 0 || name.Type == "Integer")
                whole[name.Name] = listed.Count > 0 ? listed : null;
            if (name.Unit is { Length: > 0 } unit)
                units[name.Name] = unit;
        }
    }

    /// <summary>Conjunctions that are looked at; beyond them nothing is decided.</summary>
    const int MostConjunctions = 2000;

    /// <summary>An atom: a term below, above or at a number, or something that is true or not.</summary>
    internal readonly record struct Atom(string Term, Relation Is, double Value);

    internal enum Relation
    {
        Less,
        LessOrEqual,
        Equal,
        Different,
        GreaterOrEqual,
        Greater,
    }

    /// <summary>Whether all can hold at once; null where that is not decided.</summary>
    public bool? CanHold(params IEnumerable<Expression> conditions)
    {
        List<List<Atom>>? all =
        [
            [],
        ];
        foreach (var condition in conditions)
        {
            all = And(all, Of(condition, true));
            if (all is null)
                return null;
        }

        return all.Exists(IsPossible);
    }

    static List<List<Atom>>? And(List<List<Atom>> a, List<List<Atom>>? b)
    {
        if (b is null || (long)a.Count * b.Count > MostConjunctions)
            return null;
        return [.. a.SelectMany(x => b.Select(y => (List<Atom>)[.. x, .. y]))];
    }

    static List<List<Atom>>? Or(List<List<Atom>>? a, List<List<Atom>>? b) =>
        a is null || b is null || a.Count + b.Count > MostConjunctions ? null : [.. a, .. b];

    List<List<Atom>>? Of(Expression e, bool wanted)
    {
        switch (e)
        {
            case BooleanLiteral b:
                return b.Value == wanted
                    ?
                    [
                        [],
                    ]
                    : [];
            case Unary { Kind: UnaryKind.Not } u:
                return Of(u.Operand, !wanted);
            case Binary { Kind: BinaryKind.And or BinaryKind.Or } b:
                var (left, right) = (Of(b.Left, wanted), Of(b.Right, wanted));
                return (b.Kind == BinaryKind.And) == wanted
                    ? left is null
                        ? null
                        : And(left, right)
                    : Or(left, right);
            case Binary b when RelationOf(b.Kind) is { } relation:
                return Compared(b.Left, wanted ? relation : Opposite(relation), b.Right);
            default:
                return
                [
                    [new Atom(ExpressionText.Print(e), Relation.Equal, wanted ? 1 : 0)],
                ];
        }
    }

    List<List<Atom>> Compared(Expression left, Relation relation, Expression right)
    {
        if (Number(right) is { } bound)
            return
            [
                [new Atom(ExpressionText.Print(left), relation, bound)],
            ];
        if (Number(left) is { } other)
            return
            [
                [new Atom(ExpressionText.Print(right), Mirrored(relation), other)],
            ];
        var (a, b) = (ExpressionText.Print(left), ExpressionText.Print(right));
        return string.CompareOrdinal(a, b) <= 0
            ?
            [
                [new Atom($"{a} - {b}", relation, 0)],
            ]
            :
            [
                [new Atom($"{b} - {a}", Mirrored(relation), 0)],
            ];
    }

    double? Number(Expression e) =>
        e switch
        {
            NumberLiteral n => n.Value,
            BooleanLiteral b => b.Value ? 1 : 0,
            Quantity { Value: NumberLiteral n } q => n.Value * q.Unit.Factor + q.Unit.Offset,
            Unary { Kind: UnaryKind.Minus } u => -Number(u.Operand),
            Reference { Parts: [{ Subscripts.Count: 0 } only] } when words.TryGetValue(only.Name, out var word) => word,
            _ => null,
        };

    bool IsPossible(List<Atom> atoms) => atoms.GroupBy(a => a.Term).All(g => IsPossible(g.Key, [.. g]));

    bool IsPossible(string term, List<Atom> atoms) =>
        Range.Of(atoms).Within(whole.TryGetValue(term, out var listed), listed?.Count).IsPossible;

    static Relation? RelationOf(BinaryKind kind) =>
        kind switch
        {
            BinaryKind.Less => Relation.Less,
            BinaryKind.LessOrEqual => Relation.LessOrEqual,
            BinaryKind.Equal => Relation.Equal,
            BinaryKind.NotEqual => Relation.Different,
            BinaryKind.GreaterOrEqual => Relation.GreaterOrEqual,
            BinaryKind.Greater => Relation.Greater,
            _ => null,
        };

    static Relation Opposite(Relation r) =>
        r switch
        {
            Relation.Less => Relation.GreaterOrEqual,
            Relation.LessOrEqual => Relation.Greater,
            Relation.Equal => Relation.Different,
            Relation.Different => Relation.Equal,
            Relation.GreaterOrEqual => Relation.Less,
            _ => Relation.LessOrEqual,
        };

    static Relation Mirrored(Relation r) =>
        r switch
        {
            Relation.Less => Relation.Greater,
            Relation.LessOrEqual => Relation.GreaterOrEqual,
            Relation.Greater => Relation.Less,
            Relation.GreaterOrEqual => Relation.LessOrEqual,
            _ => r,
        };
}
