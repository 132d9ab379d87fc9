using System.Text;

namespace AnchorBend.Language.Units;

/// <summary>
/// Exponents of the seven SI base units, packed a byte each. Plane angle is dimensionless, as in the SI, and so takes no part
/// in checks; its exponent is kept by <see cref="Unit"/> only, to tell cycles from radians in conversions.
/// </summary>
public readonly record struct Dimension
{
    const string Symbols = "m\0kg\0s\0A\0K\0mol\0cd";

    readonly long packed;

    Dimension(long packed) => this.packed = packed;

    public static Dimension None => default;

    public bool IsNone => packed == 0;

    /// <summary>One base unit: 0 m, 1 kg, 2 s, 3 A, 4 K, 5 mol, 6 cd.</summary>
    public static Dimension Base(int index, int exponent = 1) => new((long)(byte)(sbyte)exponent << (8 * index));

    public int this[int index] => (sbyte)(packed >> (8 * index));

    public static Dimension operator *(Dimension a, Dimension b) => Combine(a, b, 1);

    public static Dimension operator /(Dimension a, Dimension b) => Combine(a, b, -1);

    /// <summary>The dimension to an integer power; exponents saturate at a byte.</summary>
    public Dimension Power(int exponent)
    {
        long result = 0;
        for (var i = 0; i < 7; i++)
            result |= (long)(byte)(sbyte)Math.Clamp(this[i] * exponent, -127, 127) << (8 * i);
        return new Dimension(result);
    }

    /// <summary>The square root where every exponent is even; null otherwise.</summary>
    public Dimension? Root()
    {
        long result = 0;
        for (var i = 0; i < 7; i++)
        {
            if (this[i] % 2 != 0)
                return null;
            result |= (long)(byte)(sbyte)(this[i] / 2) << (8 * i);
        }

        return new Dimension(result);
    }

    static Dimension Combine(Dimension a, Dimension b, int sign)
    {
        if (b.packed == 0)
            return a;
        long result = 0;
        for (var i = 0; i < 7; i++)
            result |= (long)(byte)(sbyte)Math.Clamp(a[i] + sign * b[i], -127, 127) << (8 * i);
        return new Dimension(result);
    }

    /// <summary>Text in base units, such as <c>kg.m2/s2</c>; <c>1</c> for none.</summary>
    public override string ToString()
    {
        var names = Symbols.Split('\0');
        var top = new StringBuilder();
        var bottom = new StringBuilder();
        var below = 0;
        for (var i = 0; i < 7; i++)
        {
            var exponent = this[i];
            if (exponent == 0)
                continue;
            var part = exponent > 0 ? top : bottom;
            if (part.Length > 0)
                part.Append('.');
            part.Append(names[i]);
            if (Math.Abs(exponent) != 1)
                part.Append(Math.Abs(exponent));
            if (exponent < 0)
                below++;
        }

        if (bottom.Length == 0)
            return top.Length == 0 ? "1" : top.ToString();
        return (top.Length == 0 ? "1" : top.ToString()) + "/" + (below > 1 ? $"({bottom})" : bottom.ToString());
    }
}
