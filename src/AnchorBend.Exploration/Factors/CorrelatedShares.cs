using MathNet.Numerics.Distributions;

namespace AnchorBend.Exploration.Factors;

/// <summary>
/// Shares that go together within groups, from shares that are independent: a normal copula (Nelsen, An Introduction to Copulas, 2006, 2.3)
/// in which any two of a group have one correlation. What each factor has by itself stays as it was. The rank correlation of two is
/// (6/π) arcsin(ρ/2).
/// </summary>
/// <param name="Members">Places of a group's factors.</param>
/// <param name="Correlation">Of the normal variables behind any two of them.</param>
public sealed record CorrelatedShares(IReadOnlyList<int> Members, double Correlation)
{
    /// <exception cref="ExplorationException">So many cannot all have this correlation with one another.</exception>
    public void Check(string name)
    {
        var least = Members.Count < 2 ? -1 : -1.0 / (Members.Count - 1);
        if (Correlation < least - 1e-12 || Correlation > 1)
            throw new ExplorationException(
                "group",
                $"{Members.Count} values of '{name}' cannot have a correlation of {Correlation:G4} with one another.",
                $"It lies from {least:G3} to 1 for so many."
            );
    }

    /// <summary>Changes the shares of the group in a row.</summary>
    public void Apply(double[] row)
    {
        // Rows of the Cholesky factor differ in their diagonal alone: below it each column holds one value.
        var (sum, square) = (0.0, 0.0);
        foreach (var member in Members)
        {
            var own = Normal.InvCDF(0, 1, Math.Clamp(row[member], 1e-15, 1 - 1e-15));
            var diagonal = Math.Sqrt(Math.Max(0, 1 - square));
            var below = diagonal > 1e-9 ? (Correlation - square) / diagonal : 0;
            row[member] = Math.Min(Normal.CDF(0, 1, sum + diagonal * own), Math.BitDecrement(1.0));
            sum += below * own;
            square += below * below;
        }
    }
}
