using System.Collections.Concurrent;
using System.Globalization;

namespace AnchorBend.Language.Terms;

/// <summary>Something that computes outside of the equations and remembers what it did: code on a target, a unit of another tool.</summary>
public interface IOutsideUnit
{
    byte[] Save();

    /// <param name="state">That <see cref="Save"/> gave.</param>
    void Restore(byte[] state);
}

/// <summary>One that goes on by itself: the equations give it inputs, have it go on and read its outputs.</summary>
public interface IOutsideSteps : IOutsideUnit
{
    void Put(int input, double value);

    /// <summary>Goes on to a time. What is asked of it at the same time again begins where it was before.</summary>
    void Step(double time);

    double Get(int output);
}

/// <summary>The units of one run, by the numbers under which equations call them. Those that are offered to all runs are opened when a
/// run first calls them, and closed with it.</summary>
public sealed class OutsideUnits(IReadOnlyDictionary<long, IOutsideUnit> given) : IDisposable
{
    /// <summary>Units of one kind that a model may have.</summary>
    public const long PerOffer = 4096;

    static readonly ConcurrentDictionary<long, Func<IOutsideUnit>> Offers = [];

    [ThreadStatic]
    static OutsideUnits? present;

    readonly SortedDictionary<long, IOutsideUnit> open = [];

    /// <summary>Offers a kind of units to all runs.</summary>
    /// <param name="kind">Unit n of it is called by this times <see cref="PerOffer"/>, plus n.</param>
    public static void Offer(long kind, Func<IOutsideUnit> opener) => Offers[kind] = opener;

    public static bool IsOffered(long kind) => Offers.ContainsKey(kind);

    /// <summary>The number of a kind that is known by a hash of its bytes; numbers of its units are exact as reals.</summary>
    /// <param name="hash">In hexadecimal digits.</param>
    public static long KindOf(string hash) =>
        (1L << 38) + long.Parse(hash.AsSpan(0, 9), NumberStyles.HexNumber, CultureInfo.InvariantCulture);

    /// <summary>Code that this thread runs from now on calls these.</summary>
    public void Attend() => present = this;

    /// <summary>Null where there is none of that number.</summary>
    public IOutsideUnit? Find(long number)
    {
        if (given.TryGetValue(number, out var mine) || open.TryGetValue(number, out mine))
            return mine;
        return Offers.TryGetValue(number / PerOffer, out var opener) ? open[number] = opener() : null;
    }

    /// <summary>All that are there, in the order of their numbers.</summary>
    public IEnumerable<(long Number, IOutsideUnit Unit)> All =>
        given.Select(g => (g.Key, g.Value)).OrderBy(g => g.Key).Concat(open.Select(o => (o.Key, o.Value)));

    /// <summary>Gives an input; what comes back is handed to the next call, so that calls keep their order.</summary>
    public static double Put(double number, double input, double value, double order)
    {
        Steps(number)?.Put((int)input, value);
        return order;
    }

    /// <summary>Has it go on; what comes back is handed to those that read outputs.</summary>
    public static double Step(double number, double time, double order)
    {
        Steps(number)?.Step(time);
        return order;
    }

    /// <summary>An output; no number where there is no such unit.</summary>
    public static double Get(double number, double output, double order) =>
        double.IsNaN(order) ? double.NaN : Steps(number)?.Get((int)output) ?? double.NaN;

    static IOutsideSteps? Steps(double number) => present?.Find((long)number) as IOutsideSteps;

    static IOutsideFlow? Flow(double number) => present?.Find((long)number) as IOutsideFlow;

    /// <summary>A state of a unit that is integrated here, once it has begun at a point of its parameters.</summary>
    public static double Begin(double number, double state, double point)
    {
        if (Flow(number) is not { } unit)
            return double.NaN;
        var time = OutsidePoints.Read(point, unit.Point);
        return unit.Begin(time, (int)state);
    }

    /// <summary>A slope, an output or an indicator of it at a point.</summary>
    public static double Value(double number, double place, double point)
    {
        if (Flow(number) is not { } unit)
            return double.NaN;
        var time = OutsidePoints.Read(point, unit.Point);
        return unit.Value(time, (int)place);
    }

    /// <summary>How such a value changes with a number of the point; with time for a number below 0.</summary>
    public static double Slope(double number, double place, double by, double point)
    {
        if (Flow(number) is not { } unit)
            return double.NaN;
        var time = OutsidePoints.Read(point, unit.Point);
        return unit.Slope(time, (int)place, (int)by);
    }

    /// <summary>Has it decide at an event.</summary>
    /// <returns>How many events it has had.</returns>
    public static double Event(double number, double point)
    {
        if (Flow(number) is not { } unit)
            return double.NaN;
        var time = OutsidePoints.Read(point, unit.Point);
        return unit.Event(time);
    }

    /// <summary>What came of its last event: a state, or for a number below 0 when the next one comes that it knows of.</summary>
    public static double After(double number, double what, double order) =>
        double.IsNaN(order) ? double.NaN : Flow(number)?.After((int)what) ?? double.NaN;

    public void Dispose()
    {
        foreach (var unit in open.Values)
            (unit as IDisposable)?.Dispose();
        open.Clear();
        if (present == this)
            present = null;
    }
}
