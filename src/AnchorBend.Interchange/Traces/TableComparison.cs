using AnchorBend.Verification;
using AnchorBend.Verification.Comparing;

namespace AnchorBend.Interchange.Traces;

/// <summary>How one quantity of two tables differs; see <see cref="CurveDifference"/>.</summary>
public sealed record QuantityDifference(string Name, double Largest, double At, double Range, double Share, double? Parts);

/// <summary>How two tables of runs differ: the quantities of both, those that differ most first.</summary>
/// <param name="Problems">What cannot be compared: quantities of one alone, times that do not meet, units that differ.</param>
public sealed record TableComparison(IReadOnlyList<QuantityDifference> Quantities, IReadOnlyList<string> Problems)
{
    public bool IsSame => Problems.Count == 0 && Quantities.All(q => q.Parts is null);

    /// <summary>The quantity that parts first; null where none does.</summary>
    public QuantityDifference? First => Quantities.Where(q => q.Parts is not null).MinBy(q => q.Parts);

    public static TableComparison Of(RunTable a, RunTable b, Tolerance tolerance)
    {
        var problems = new List<string>();
        var span = Math.Max(a.Times[^1], b.Times[^1]) - Math.Min(a.Times[0], b.Times[0]);
        if (Math.Abs(a.Times[0] - b.Times[0]) > 1e-9 * span || Math.Abs(a.Times[^1] - b.Times[^1]) > 1e-9 * span)
            problems.Add(
                FormattableString.Invariant(
                    $"They cover different times: {a.Times[0]:G8} to {a.Times[^1]:G8} s, and {b.Times[0]:G8} to {b.Times[^1]:G8} s."
                )
            );
        problems.AddRange(a.Columns.Where(c => b.Find(c.Name) is null).Select(c => $"{c.Name} is in the first only."));
        problems.AddRange(b.Columns.Where(c => a.Find(c.Name) is null).Select(c => $"{c.Name} is in the second only."));
        var quantities = new List<QuantityDifference>();
        foreach (var left in a.Columns)
        {
            if (b.Find(left.Name) is not { } right)
                continue;
            if (left.Unit.Length > 0 && right.Unit.Length > 0 && left.Unit != right.Unit)
            {
                problems.Add($"{left.Name} is in {left.Unit} in the first, in {right.Unit} in the second.");
                continue;
            }

            var d = CurveDifference.Of(new Curve(a.Times, left.Values), new Curve(b.Times, right.Values), tolerance);
            quantities.Add(new QuantityDifference(left.Name, d.Largest, d.At, d.Range, d.Share, d.Parts));
        }

        if (quantities.Count == 0)
            problems.Add("They have no quantity in common.");
        return new TableComparison([.. quantities.OrderByDescending(q => q.Parts is not null).ThenByDescending(q => q.Share)], problems);
    }
}
