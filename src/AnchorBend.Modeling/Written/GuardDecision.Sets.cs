using System.Globalization;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;

namespace AnchorBend.Modeling.Written;

/// <summary>Sets of values under conditions, and how they are told.</summary>
sealed partial class GuardDecision
{
    /// <summary>A set of values: atoms that all hold.</summary>
    public sealed class Conjunction
    {
        internal Conjunction(List<Atom> atoms) => Atoms = atoms;

        internal List<Atom> Atoms { get; }
    }

    /// <summary>All there can be.</summary>
    public static Conjunction Anything { get; } = new([]);

    /// <summary>What of sets a condition leaves, where it holds or where it does not; null where that is not decided.</summary>
    public List<Conjunction>? Under(IReadOnlyList<Conjunction> sets, Expression condition, bool wanted) =>
        And([.. sets.Select(s => s.Atoms)], Of(condition, wanted)) is { } all
            ? [.. all.Where(IsPossible).Select(a => new Conjunction(a))]
            : null;

    /// <summary>A set in words, such as <c>level &lt; 2 m and mode = ebb</c>.</summary>
    public string Told(Conjunction set) =>
        set.Atoms.Count == 0
            ? "nothing else does"
            : string.Join(" and ", set.Atoms.GroupBy(a => a.Term).Select(g => Told(g.Key, Range.Of([.. g]))));

    string Told(string term, Range range)
    {
        var isWhole = whole.TryGetValue(term, out var listed);
        range = range.Within(isWhole, listed?.Count);
        if (!isWhole && range is { Low: 1, High: 1 } or { Low: 0, High: 0 })
            return range.Low == 0 ? $"not {term}" : term;
        if (listed is not null)
        {
            var left = Enumerable.Range(1, listed.Count).Where(range.Holds).Select(i => listed[i - 1]);
            return $"{term} = {string.Join(" or ", left)}";
        }

        if (range.Low == range.High)
            return $"{term} = {Number(term, range.Low)}";
        var parts = new List<string>();
        if (!double.IsInfinity(range.Low))
            parts.Add($"{term} {(range.LowIn ? "≥" : ">")} {Number(term, range.Low)}");
        if (!double.IsInfinity(range.High))
            parts.Add($"{term} {(range.HighIn ? "≤" : "<")} {Number(term, range.High)}");
        parts.AddRange(range.Gaps.Where(g => g > range.Low && g < range.High).Select(g => $"{term} ≠ {Number(term, g)}"));
        return string.Join(" and ", parts);
    }

    string Number(string term, double value)
    {
        var text = value.ToString("G6", CultureInfo.InvariantCulture);
        try
        {
            return units.TryGetValue(term, out var unit) ? $"{text} {Unit.Parse(unit).Coherent().Symbol}" : text;
        }
        catch (LanguageException)
        {
            return text;
        }
    }

    /// <summary>The values that the atoms of one term leave it.</summary>
    sealed record Range(double Low, bool LowIn, double High, bool HighIn, IReadOnlySet<double> Gaps)
    {
        bool IsWhole { get; init; }

        public static Range Of(List<Atom> atoms)
        {
            var (low, high) = (double.NegativeInfinity, double.PositiveInfinity);
            var (lowIn, highIn) = (true, true);
            foreach (var (_, relation, value) in atoms)
            {
                if (relation is Relation.Equal or Relation.GreaterOrEqual or Relation.Greater)
                {
                    if (value > low)
                        (low, lowIn) = (value, relation != Relation.Greater);
                    else if (value == low)
                        lowIn &= relation != Relation.Greater;
                }

                if (relation is Relation.Equal or Relation.LessOrEqual or Relation.Less)
                {
                    if (value < high)
                        (high, highIn) = (value, relation != Relation.Less);
                    else if (value == high)
                        highIn &= relation != Relation.Less;
                }
            }

            return new Range(low, lowIn, high, highIn, atoms.Where(a => a.Is == Relation.Different).Select(a => a.Value).ToHashSet());
        }

        /// <summary>Of whole numbers only those, from 1 to the number of words where there are any.</summary>
        public Range Within(bool isWhole, int? count)
        {
            if (!isWhole)
                return this;
            var low = LowIn ? Math.Ceiling(Low) : Math.Floor(Low) + 1;
            var high = HighIn ? Math.Floor(High) : Math.Ceiling(High) - 1;
            return new Range(count is null ? low : Math.Max(low, 1), true, count is null ? high : Math.Min(high, count.Value), true, Gaps)
            {
                IsWhole = true,
            };
        }

        public bool Holds(int value) => value >= Low && value <= High && !Gaps.Contains(value);

        public bool IsPossible =>
            !IsWhole ? Low < High || Low == High && LowIn && HighIn && !Gaps.Contains(Low)
            : double.IsInfinity(Low) || double.IsInfinity(High) ? Low <= High
            : High >= Low && High - Low + 1 > Gaps.Count(g => g >= Low && g <= High && g == Math.Floor(g));
    }
}
