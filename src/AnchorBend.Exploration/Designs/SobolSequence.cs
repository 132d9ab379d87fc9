namespace AnchorBend.Exploration.Designs;

/// <summary>
/// The low-discrepancy sequence of Sobol (USSR Comput. Math. Math. Phys. 7, 1967) in the order of Gray codes (Antonov and Saleev, 1979)
/// with the direction numbers of Joe and Kuo (SIAM J. Sci. Comput. 30, 2008), shifted by a drawn digital shift, which keeps all of its
/// evenness and moves it off the corner.
/// </summary>
public static class SobolSequence
{
    const int Bits = 52;

    /// <summary>Primitive polynomials by degree and inner coefficients, with the first direction numbers, from the second dimension
    /// on.</summary>
    static readonly (int Degree, int Inner, int[] First)[] Directions =
    [
        (1, 0, [1]),
        (2, 1, [1, 3]),
        (3, 1, [1, 3, 1]),
        (3, 2, [1, 1, 1]),
        (4, 1, [1, 1, 3, 3]),
        (4, 4, [1, 3, 5, 13]),
        (5, 2, [1, 1, 5, 5, 17]),
        (5, 4, [1, 1, 5, 5, 5]),
        (5, 7, [1, 1, 7, 11, 19]),
        (5, 11, [1, 1, 5, 1, 1]),
        (5, 13, [1, 1, 1, 3, 11]),
        (5, 14, [1, 3, 5, 5, 31]),
        (6, 1, [1, 3, 3, 9, 7, 49]),
        (6, 13, [1, 1, 1, 15, 21, 21]),
        (6, 16, [1, 3, 1, 13, 27, 49]),
        (6, 19, [1, 1, 1, 15, 7, 5]),
        (6, 22, [1, 3, 1, 15, 13, 25]),
        (6, 25, [1, 1, 5, 5, 19, 61]),
        (7, 1, [1, 3, 7, 11, 23, 15, 103]),
        (7, 4, [1, 3, 7, 13, 13, 15, 69]),
    ];

    /// <summary>How many factors it is made for.</summary>
    public static int MostDimensions => Directions.Length + 1;

    /// <exception cref="ExplorationException">There are more factors than it is made for.</exception>
    public static IEnumerable<double[]> Points(int dimensions, int count, ulong seed)
    {
        if (dimensions > MostDimensions)
            throw new ExplorationException(
                "dimensions",
                $"The sequence of Sobol is made for {MostDimensions} factors at most.",
                "Take a Latin hypercube, or fewer factors."
            );
        var draw = new SeededDraw(seed);
        var shift = Enumerable.Range(0, dimensions).Select(_ => draw.Bits() >> (64 - Bits)).ToArray();
        var directions = Enumerable.Range(0, dimensions).Select(Direction).ToArray();
        return Rows();

        IEnumerable<double[]> Rows()
        {
            var x = new ulong[dimensions];
            for (var n = 0; n < count; n++)
            {
                if (n > 0)
                {
                    var bit = System.Numerics.BitOperations.TrailingZeroCount(n);
                    for (var d = 0; d < dimensions; d++)
                        x[d] ^= directions[d][bit];
                }

                yield return [.. x.Select((v, d) => (v ^ shift[d]) * (1.0 / (1UL << Bits)))];
            }
        }
    }

    /// <summary>Direction numbers of one dimension, the highest bit first.</summary>
    static ulong[] Direction(int dimension)
    {
        var v = new ulong[Bits];
        if (dimension == 0)
        {
            for (var i = 0; i < Bits; i++)
                v[i] = 1UL << (Bits - 1 - i);
            return v;
        }

        var (degree, inner, first) = Directions[dimension - 1];
        for (var i = 0; i < Bits; i++)
        {
            if (i < degree)
            {
                v[i] = (ulong)first[i] << (Bits - 1 - i);
                continue;
            }

            v[i] = v[i - degree] ^ (v[i - degree] >> degree);
            for (var k = 1; k < degree; k++)
                if (((inner >> (degree - 1 - k)) & 1) == 1)
                    v[i] ^= v[i - k];
        }

        return v;
    }
}
