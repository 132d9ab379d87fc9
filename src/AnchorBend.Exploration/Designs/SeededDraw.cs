namespace AnchorBend.Exploration.Designs;

/// <summary>
/// Numbers drawn from a seed, the same on every machine and in every version: SplitMix64 (Steele, Lea and Flood, "Fast splittable
/// pseudorandom number generators", OOPSLA 2014).
/// </summary>
public sealed class SeededDraw(ulong seed)
{
    ulong state = seed;

    public ulong Bits()
    {
        var z = state += 0x9E3779B97F4A7C15;
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EB;
        return z ^ (z >> 31);
    }

    /// <summary>At least 0, below 1: one of 2⁵³ evenly spaced numbers.</summary>
    public double Share() => (Bits() >> 11) * (1.0 / (1UL << 53));

    /// <summary>A whole number below a bound, each as likely as another.</summary>
    public int Below(int bound)
    {
        // What is left over above a multiple of the bound is drawn again.
        var most = ulong.MaxValue - ulong.MaxValue % (ulong)bound;
        ulong bits;
        do bits = Bits();
        while (bits >= most);
        return (int)(bits % (ulong)bound);
    }

    /// <summary>The numbers from 0 on in a drawn order (Fisher and Yates).</summary>
    public int[] Permutation(int count)
    {
        var order = Enumerable.Range(0, count).ToArray();
        for (var i = count - 1; i > 0; i--)
        {
            var j = Below(i + 1);
            (order[i], order[j]) = (order[j], order[i]);
        }

        return order;
    }
}
