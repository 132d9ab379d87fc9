namespace AnchorBend.Numerics.Integration;

/// <summary>
/// Logarithm and exponential to the base 2 for step control, right to some six digits: next steps need two, and small models make millions
/// of steps. Sums and products alone, so that steps do not depend on a machine's library (the series of the inverse hyperbolic tangent and
/// of the exponential; Muller, "Elementary Functions", 3rd ed., sections 3.2 and 11.2).
/// </summary>
public static class FastPower
{
    const double LogOf2 = 0.69314718055994531;

    /// <summary>Mantissas above this count to the next power of two, so that they lie evenly around 1.</summary>
    const long RootOf2 = 0x3FF6A09E667F3BCD;

    const long One = 0x3FF0000000000000,
        MantissaBits = 0x000FFFFFFFFFFFFF;

    /// <summary>Base-2 logarithm of a positive number; absolute error below 1e-6.</summary>
    public static double Log2(double x)
    {
        var bits = BitConverter.DoubleToInt64Bits(x);
        var exponent = (int)(bits >> 52) - 1023;
        var mantissa = bits & MantissaBits | One;
        if (mantissa > RootOf2)
        {
            mantissa -= 1L << 52;
            exponent++;
        }

        var m = BitConverter.Int64BitsToDouble(mantissa);
        // log m = 2 artanh z with |z| ≤ 0.172.
        var z = (m - 1) / (m + 1);
        var s = z * z;
        return exponent + 2 / LogOf2 * z * (1 + s * (1.0 / 3 + s * (1.0 / 5 + s * (1.0 / 7))));
    }

    /// <summary>2 to the power of a number from −1000 to 1000; relative error below 1e-6.</summary>
    public static double Exp2(double y)
    {
        var whole = Math.Round(y);
        var r = (y - whole) * LogOf2;
        // |r| ≤ 0.35.
        var fraction = 1 + r * (1 + r * (1.0 / 2 + r * (1.0 / 6 + r * (1.0 / 24 + r * (1.0 / 120 + r * (1.0 / 720))))));
        return fraction * BitConverter.Int64BitsToDouble((long)(whole + 1023) << 52);
    }
}
