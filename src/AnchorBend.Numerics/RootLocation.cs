namespace AnchorBend.Numerics;

/// <summary>Locates a sign change.</summary>
public static class RootLocation
{
    /// <summary>
    /// Narrows an interval around a change of a function's sign until its ends are neighbours up to the tolerance: regula falsi with the
    /// weights of Anderson and Björck (BIT 13, 1973), guarded by bisection.
    /// </summary>
    /// <param name="function">The function; its sign at <paramref name="a"/> differs from the one at <paramref name="b"/>.</param>
    /// <returns>The end of the last interval on the side of <paramref name="b"/>: the change has happened there.</returns>
    public static double After(Func<double, double> function, double a, double fa, double b, double fb, double tolerance)
    {
        var negative = fb < 0;
        int side = 0,
            shrunkBadly = 0;
        for (var iteration = 0; iteration < 200 && b - a > tolerance; iteration++)
        {
            var width = b - a;
            var middle =
                shrunkBadly >= 3 || !double.IsFinite(fa) || !double.IsFinite(fb) || fa == fb ? 0.5 * (a + b) : b - fb * (b - a) / (fb - fa);
            // Stay inside by half the tolerance, so that the far end moves too once the near one sits on the root.
            double least = Math.Max(a + 0.5 * tolerance, Math.BitIncrement(a)),
                most = Math.Min(b - 0.5 * tolerance, Math.BitDecrement(b));
            if (least > most)
                break;
            middle = Math.Clamp(middle, least, most);
            var value = function(middle);
            if (value < 0 == negative && value != 0 || value == 0 && fb == 0)
            {
                if (side == 1)
                    fa *= Weight(value, fb);
                (b, fb) = (middle, value);
                side = 1;
            }
            else
            {
                if (side == -1)
                    fb *= Weight(value, fa);
                (a, fa) = (middle, value);
                side = -1;
            }

            shrunkBadly = b - a > 0.5 * width ? shrunkBadly + 1 : 0;
        }

        return b;
    }

    /// <summary>What the value at an end that stayed counts, after two points on the other side: as a parabola through them would have
    /// it.</summary>
    static double Weight(double value, double before) => before != 0 && 1 - value / before is var weight && weight > 0 ? weight : 0.5;
}
