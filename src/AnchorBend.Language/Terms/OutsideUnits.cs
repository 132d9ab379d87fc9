using System.Collections.Concurrent;

namespace AnchorBend.Language.Terms;

/// <summary>
/// Something that computes outside of the equations and remembers what it did: code on a target, a unit of another tool. The equations
/// give it inputs, have it go on and read its outputs; whoever makes a run opens and closes it.
/// </summary>
public interface IOutsideUnit
{
    void Put(int input, double value);

    /// <summary>Goes on to a time. For the same time with other inputs it does so anew from where it was before.</summary>
    void Step(double time);

    double Get(int output);

    byte[] Save();

    /// <param name="state">That <see cref="Save"/> gave.</param>
    void Restore(byte[] state);
}

/// <summary>Units that are open, by the numbers under which equations call them.</summary>
public static class OutsideUnits
{
    static readonly ConcurrentDictionary<long, IOutsideUnit> Open = [];

    // A run of an earlier program must not find somebody else's unit.
    static long last = Random.Shared.NextInt64(1L << 20, 1L << 50);

    public static long Add(IOutsideUnit unit)
    {
        var number = Interlocked.Increment(ref last);
        Open[number] = unit;
        return number;
    }

    public static void Remove(long number) => Open.TryRemove(number, out _);

    /// <summary>Null where it is closed, or was never open.</summary>
    public static IOutsideUnit? Find(double number) => Open.GetValueOrDefault((long)number);

    /// <summary>Gives an input; what comes back is handed to the next call, so that calls keep their order.</summary>
    public static double Put(double number, double input, double value, double order)
    {
        Find(number)?.Put((int)input, value);
        return order;
    }

    /// <summary>Has it go on; what comes back is handed to those that read outputs.</summary>
    public static double Step(double number, double time, double order)
    {
        Find(number)?.Step(time);
        return order;
    }

    /// <summary>An output; no number where there is no such unit.</summary>
    public static double Get(double number, double output, double order) =>
        double.IsNaN(order) ? double.NaN : Find(number)?.Get((int)output) ?? double.NaN;
}
