using AnchorBend.Language.Binding;

namespace AnchorBend.Delivery;

/// <summary>Inputs for a comparison: numbers from −2 to 2, or true or false, held for ten steps in the mean.</summary>
public static class DrawnInputs
{
    const double Range = 2;

    const int Held = 10;

    /// <param name="seed">The same seed draws the same inputs.</param>
    public static IReadOnlyList<double[]> Of(CodeUnit unit, int steps, int seed)
    {
        var random = new Random(seed);
        var held = new double[unit.Inputs.Count];
        var rows = new List<double[]>(steps);
        for (var step = 0; step < steps; step++)
        {
            for (var i = 0; i < held.Length; i++)
                if (step == 0 || random.Next(Held) == 0)
                    held[i] = unit.Inputs[i].Variable.Type == ScalarType.Real ? Range * (2 * random.NextDouble() - 1) : random.Next(2);
            rows.Add((double[])held.Clone());
        }

        return rows;
    }
}
