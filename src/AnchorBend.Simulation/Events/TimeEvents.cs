using AnchorBend.Compiler.Analysis;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Language.Terms;
using AnchorBend.Numerics;
using AnchorBend.Simulation.Stepping;

namespace AnchorBend.Simulation.Events;

/// <summary>Events that are known beforehand: ticks of clocks, comparisons with time, knots of tables read along time, and jumps that
/// come out of delays.</summary>
sealed unsafe class TimeEvents(Motion motion) : ISaved
{
    readonly Compiler.Planning.ExecutionPlan plan = motion.Plan;
    readonly ModelInstance model = motion.Model;

    /// <summary>Relations that compare with time, by place.</summary>
    public int[] Relations { get; } =
    [.. Enumerable.Range(0, motion.Plan.Relations.Count).Where(r => motion.Plan.Relations[r].Compare is not null)];

    double nextTimeEvent = double.PositiveInfinity,
        nextOtherEvent = double.PositiveInfinity;

    /// <summary>The next of all.</summary>
    public double Next => nextTimeEvent;

    /// <summary>The next that is not a discontinuity coming out of a delay.</summary>
    public double NextOther => nextOtherEvent;

    /// <summary>The comparison with time that makes the next time event, by its place among the relations; −1 where it is none.</summary>
    int nextRelation = -1;

    /// <summary>The comparison with time that comes true or false at a time; −1 where none does.</summary>
    public int RelationAt(double time) =>
        nextRelation >= 0 && time >= motion.ValueNow(plan.Relations[nextRelation].Compare!) ? nextRelation : -1;

    /// <summary>Looks for the next events after an instant, from the values then.</summary>
    public void Plan(double now, TickSchedule ticks)
    {
        var next = ticks.Next;
        nextRelation = -1;
        foreach (var r in Relations)
        {
            var instant = motion.ValueNow(plan.Relations[r].Compare!);
            if (instant > now && instant < next)
                (next, nextRelation) = (instant, r);
        }

        for (var t = 0; t < plan.TimeTables.Count; t++)
        {
            var (table, rateTerm, held) = plan.TimeTables[t];
            var (abscissa, rate) = (motion.ValueNow(table.Abscissa), motion.ValueNow(rateTerm));
            if (!(rate > 0))
            {
                // Nothing tells when a falling abscissa leaves its stretch, so the table is read as it is.
                model.Memory[motion.Compiled.Layout.AbscissaBase + held] = double.NaN;
                continue;
            }

            // Sums of times round, and the knot must have been reached.
            var knot = now + (TableLookup.NextKnot(abscissa, KnotsOf(t), table.Kind) - abscissa) / rate;
            knot += 2 * (Math.BitIncrement(Math.Abs(knot)) - Math.Abs(knot));
            if (knot > now && knot < next)
                next = knot;
        }

        nextOtherEvent = next;
        foreach (var delay in model.Delays)
            next = Math.Min(next, delay.NextBreak);

        nextTimeEvent = next;
    }

    readonly double[]?[] knots = new double[]?[motion.Plan.TimeTables.Count];

    /// <summary>Parameters have changed, and with them the tables.</summary>
    public void ForgetTables() => Array.Clear(knots);

    double[] KnotsOf(int table)
    {
        if (knots[table] is { } known)
            return known;
        var terms = plan.TimeTables[table].Table.Knots.ToArray();
        double[] values = [.. terms.Select(motion.ValueNow)];
        if (Array.TrueForAll(terms, k => Dependence.OnParameters(k, plan.Model)))
            knots[table] = values;
        return values;
    }

    public void Transfer(StateArchive archive)
    {
        archive.Transfer(ref nextTimeEvent);
        archive.Transfer(ref nextOtherEvent);
    }
}
