using System.Globalization;
using System.Numerics;

namespace AnchorBend.Design;

/// <summary>What is best of all gains that keep the limits.</summary>
public enum LoopGoal
{
    /// <summary>The largest integral gain.</summary>
    IntegralGain,

    /// <summary>The least integrated absolute error of a load step.</summary>
    Load,

    /// <summary>The least integrated absolute error of a set-point step.</summary>
    SetPoint,
}

/// <summary>
/// Gains of PI and PID that are the best under limits of the sensitivity and of other closed-loop peaks. The proportional gain and the
/// derivative time are searched on a grid over all that matters, then from its best points on; for each of them the possible integral gains
/// are known exactly (<see cref="IntegralRange"/>). The integrated error of a load step is never below 1/ki, so of the least error most of
/// the grid is left out unseen.
/// </summary>
public sealed class RobustPid
{
    /// <summary>Points of the grid a decade of gain, and a decade of derivative time.</summary>
    const int Gains = 12,
        Times = 4;

    /// <summary>Decades around the plant's own gain and times that are searched.</summary>
    const double GainDecades = 3.5,
        TimeDecades = 2.5;

    /// <summary>Points of the grid from which the search goes on.</summary>
    const int Starts = 4;

    /// <summary>Shares of the largest integral gain that are tried on the grid.</summary>
    static readonly double[] Shares = [1, 0.75, 0.5, 0.3];

    readonly LinearSystem plant;
    readonly PlantResponse response;
    readonly LoopLimits limits;
    readonly PidGains shape;
    readonly CancellationToken cancellation;
    (PlantResponse Response, IntegralRange Range) at;

    RobustPid(LinearSystem plant, LoopLimits limits, PidGains shape, int sign, CancellationToken cancellation)
    {
        (this.plant, this.limits, this.shape, this.cancellation) = (plant, limits, shape, cancellation);
        response = new PlantResponse(plant, sign, shape.Period, cancellation);
    }

    /// <summary>Looks at a response with limits from here on.</summary>
    void Look(PlantResponse with, LoopLimits kept) => at = (with, new IntegralRange(with, kept, shape));

    /// <summary>The best gains of a form; null where none keep the limits.</summary>
    /// <param name="shape">Form (PI or PID), filter and weights of the controller.</param>
    /// <exception cref="ArgumentException">The form has no integral part.</exception>
    /// <exception cref="DesignException">The limits cannot be met by any loop.</exception>
    public static LoopFigures? Best(
        LinearSystem plant,
        PidGains shape,
        LoopLimits limits,
        LoopGoal goal,
        CancellationToken cancellation = default
    )
    {
        if (!shape.HasIntegral)
            throw new ArgumentException("only forms with an integral part have a best integral gain", nameof(shape));
        if (!(limits.Sensitivity > 1) || !double.IsFinite(limits.Sensitivity))
            throw new DesignException(
                "max-sensitivity",
                "The limit of the sensitivity peak must be above 1.",
                "1.2 is very robust, 1.4 robust, 2 fast."
            );
        // Which sign the plant asks for shows in what comes out.
        return ((int[])[1, -1])
            .Select(sign => new RobustPid(plant, limits, shape, sign, cancellation).Run(goal))
            .Where(f => f is not null)
            .MinBy(f => Cost(goal, f!));
    }

    /// <summary>What a goal makes as small as can be.</summary>
    public static double Cost(LoopGoal goal, LoopFigures figures) =>
        goal switch
        {
            LoopGoal.IntegralGain => -Math.Abs(figures.Gains.Parallel.Ki),
            LoopGoal.Load => figures.LoadIae ?? double.PositiveInfinity,
            _ => figures.SetPointIae ?? double.PositiveInfinity,
        };

    /// <summary>A point of the search: logarithms of the proportional gain and derivative time, and the share of the largest integral
    /// gain there.</summary>
    readonly record struct Point(double Kp, double Td, double Share);

    /// <summary>No integral of the absolute error is below that of the error: 1/ki after a load step, and of the set-point 1/ki over the
    /// plant's gain at rest, where it has one.</summary>
    double Bound(LoopGoal goal, double ki) =>
        goal == LoopGoal.Load ? 1 / ki
        : response.Integrators == 0 ? 1 / (ki * response.Values[0].Magnitude)
        : 0;

    LoopFigures? Run(LoopGoal goal)
    {
        Look(response.Coarse(), limits);
        var tried = new List<(Point Point, double Cost)>();
        var best = double.PositiveInfinity;
        var order = Grid()
            .Select(p => (Point: p, Largest: LargestAt(p)))
            .Where(p => p.Largest > 0)
            .OrderByDescending(p => p.Largest)
            .ToList();
        foreach (var (point, largest) in order)
        {
            cancellation.ThrowIfCancellationRequested();
            if (goal == LoopGoal.IntegralGain)
            {
                tried.Add((point, -largest));
                continue;
            }

            if (Bound(goal, largest) > best)
                break;
            foreach (var share in Shares)
            {
                if (Bound(goal, share * largest) > best)
                    break;
                var cost = CostAt(goal, point with { Share = share }, 1.5 * best, rough: true);
                tried.Add((point with { Share = share }, cost));
                best = Math.Min(best, cost);
            }
        }

        var starts = Distinct(tried.Where(t => double.IsFinite(t.Cost)).OrderBy(t => t.Cost).Select(t => t.Point))
            .Take(goal == LoopGoal.IntegralGain ? Starts : Starts / 2)
            .ToList();
        if (starts.Count == 0)
            return null;
        // Between the points of the grid a peak may be a little higher: the limits are tightened until the true ones are kept.
        var kept = limits;
        for (var round = 0; round < 6; round++)
        {
            Look(response, kept);
            var (point, cost) = starts.Select(p => Refined(goal, p, round == 0 ? 0.15 : 0.02)).MinBy(p => p.Cost);
            if (!double.IsFinite(cost) || GainsAt(point) is not { } gains)
                return null;
            var figures = LoopFigures.Of(Written(gains), plant, cancellation);
            var over = Over(figures);
            if (over <= 1 + 1e-4)
                return figures.IsStable == false ? null : figures;
            kept = new LoopLimits(kept.Sensitivity / over, kept.Complementary / over, kept.NoiseGain / over);
            if (!(kept.Sensitivity > 1))
                return null;
            starts = [point];
        }

        return null;
    }

    /// <summary>By what factor a limit is passed at most.</summary>
    double Over(LoopFigures figures) =>
        Math.Max(
            figures.Sensitivity.Value / limits.Sensitivity,
            Math.Max(figures.Complementary.Value / limits.Complementary ?? 0, figures.NoiseGain.Value / limits.NoiseGain ?? 0)
        );

    /// <summary>Gains as they are written.</summary>
    static PidGains Written(PidGains gains) => gains with { K = Rounded(gains.K), Ti = Rounded(gains.Ti), Td = Rounded(gains.Td) };

    /// <summary>Points that are not beside one that is already taken.</summary>
    static IEnumerable<Point> Distinct(IEnumerable<Point> points)
    {
        var taken = new List<Point>();
        foreach (var p in points)
        {
            if (taken.Exists(t => Math.Abs(t.Kp - p.Kp) < 0.4 && Math.Abs(t.Td - p.Td) < 0.8))
                continue;
            taken.Add(p);
            yield return p;
        }
    }

    IEnumerable<Point> Grid()
    {
        // Where the phase is such that a loop can have its bandwidth: about there the gain is one.
        var marks = response.Frequencies.Select((w, i) => (w, Gain: response.Values[i].Magnitude)).Where(m => m.Gain > 0).ToList();
        var centre = Pace();
        var gain = 1 / marks.MinBy(m => Math.Abs(Math.Log(m.w / centre))).Gain;
        for (var i = -(int)(Gains * GainDecades); i <= Gains * GainDecades; i++)
        {
            var kp = Math.Log(gain) + i * Math.Log(10) / Gains;
            yield return new Point(kp, double.NegativeInfinity, 1);
            if (shape.Form != PidForm.PID)
                continue;
            for (var j = -(int)(Times * TimeDecades); j <= Times * TimeDecades; j++)
                yield return new Point(kp, Math.Log(1 / centre) + j * Math.Log(10) / Times, 1);
        }
    }

    /// <summary>The frequency where the plant's phase has turned by half a circle, or its fastest mark, rad/s.</summary>
    double Pace()
    {
        var turned = 0.0;
        for (var i = 1; i < response.Values.Length; i++)
        {
            turned += (response.Values[i] / response.Values[i - 1]).Phase;
            if (turned < -Math.PI * (response.Integrators > 0 ? 0.5 : 1))
                return response.Frequencies[i];
        }

        return FrequencyGrid.Marks(plant, PolesAndZeros.Poles(plant)).Max();
    }

    PidGains Shaped(Point p)
    {
        var (kp, td) = (Math.Exp(p.Kp), double.IsNegativeInfinity(p.Td) ? 0 : Math.Exp(p.Td));
        return shape with { K = kp, Td = td, Ti = 1e300 };
    }

    (double From, double To)? RangeAt(Point p)
    {
        var without = Shaped(p) with { Form = shape.Form == PidForm.PID ? PidForm.PD : PidForm.P };
        var found = at.Range.Best([.. at.Response.Frequencies.Select(w => without.Feedback(new Complex(0, w)))]);
        if (found is not { } range || shape.ShortestTi(without.Td) is not (> 0 and var shortest))
            return found;
        var most = without.K / shortest;
        return range.From < most ? (range.From, Math.Min(range.To, most)) : null;
    }

    double LargestAt(Point p)
    {
        cancellation.ThrowIfCancellationRequested();
        return RangeAt(p) is { } found && double.IsFinite(found.To) ? found.To : 0;
    }

    /// <summary>The gains at a point, with the sign that the plant asks for; null where nothing is possible.</summary>
    PidGains? GainsAt(Point p)
    {
        if (RangeAt(p) is not { } found || !double.IsFinite(found.To))
            return null;
        var ki = found.From + p.Share * (found.To - found.From);
        var shaped = Shaped(p);
        return ki > 0 ? shaped with { K = response.Sign * shaped.K, Ti = shaped.K / ki } : null;
    }

    /// <summary>The highest frequency of the grid at which the loop's gain is above one, rad/s.</summary>
    double CrossingOf(PidGains gains)
    {
        var (frequencies, values) = (at.Response.Frequencies, at.Response.Values);
        for (var i = frequencies.Length - 1; i > 0; i--)
            if ((gains.Feedback(new Complex(0, frequencies[i])) * values[i]).Magnitude >= 1)
                return frequencies[i];
        return frequencies[0];
    }

    double CostAt(LoopGoal goal, Point p, double giveUp = double.PositiveInfinity, bool rough = false)
    {
        if (goal == LoopGoal.IntegralGain)
            return LargestAt(p) is > 0 and var largest ? -largest : double.PositiveInfinity;
        if (GainsAt(p) is not { } gains)
            return double.PositiveInfinity;
        var pace = 1 / CrossingOf(gains);
        var cost =
            goal == LoopGoal.Load
                ? ErrorIntegral.Load(gains, plant, pace, giveUp, rough)
                : ErrorIntegral.SetPoint(gains, plant, pace, giveUp, rough);
        return double.IsFinite(cost) ? cost : double.PositiveInfinity;
    }

    /// <summary>
    /// Goes on from a point by polls in directions that turn from round to round, longer after one that was better and shorter after none:
    /// the best often lies in a corner of what is possible, where fixed directions get stuck
    /// (Audet and Dennis, "Mesh adaptive direct search
    /// algorithms for constrained optimization", SIAM J. Optim. 17, 2006).
    /// </summary>
    /// <param name="length">The first step, of logarithms.</param>
    (Point Point, double Cost) Refined(LoopGoal goal, Point p, double length)
    {
        var cost = CostAt(goal, p, rough: true);
        var hasTime = shape.Form == PidForm.PID && !double.IsNegativeInfinity(p.Td);
        var (time, share) = (hasTime ? 1.0 : 0, goal == LoopGoal.IntegralGain ? 0 : 0.5);
        var random = new Random(1);
        for (var rounds = 0; length > Shortest && rounds < MostRounds; rounds++)
        {
            cancellation.ThrowIfCancellationRequested();
            var (from, before) = (p, cost);
            var turned = Math.PI * random.NextDouble();
            for (var k = 0; k < Polls; k++)
            {
                var angle = turned + 2 * Math.PI * k / Polls;
                // The share goes its own way beside the two others.
                var next = new Point(
                    from.Kp + length * Math.Cos(angle),
                    from.Td + time * length * Math.Sin(angle),
                    Math.Clamp(from.Share + share * length * (k % 3 - 1), 0.02, 1)
                );
                var there = CostAt(goal, next, 1.5 * cost, rough: true);
                if (there < cost)
                    (p, cost) = (next, there);
            }

            length *= cost < before ? 1.5 : 0.6;
        }

        return (p, cost);
    }

    /// <summary>Directions of a poll, the shortest step (of logarithms), and rounds at most.</summary>
    const int Polls = 9,
        MostRounds = 80;

    const double Shortest = 3e-4;

    static double Rounded(double value) => double.Parse(value.ToString("G6", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);
}
