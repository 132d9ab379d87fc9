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
/// are known exactly (<see cref="GainRange"/>). The integrated error of a load step is never below 1/ki, so of the least error most of
/// the grid is left out unseen. For several plants at once (operating points of one) the limits hold for each of them, and what is made
/// small is the largest.
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

    readonly IReadOnlyList<LinearSystem> plants;
    readonly PlantResponse[] responses;
    readonly LoopLimits limits;
    readonly PidGains shape;
    readonly CancellationToken cancellation;
    (PlantResponse Response, GainRange Range)[] at = [];

    RobustPid(IReadOnlyList<LinearSystem> plants, LoopLimits limits, PidGains shape, int sign, CancellationToken cancellation)
    {
        (this.plants, this.limits, this.shape, this.cancellation) = (plants, limits, shape, cancellation);
        responses = [.. plants.Select(p => new PlantResponse(p, sign, shape.Period, cancellation))];
    }

    int Sign => responses[0].Sign;

    /// <summary>Looks at responses with limits from here on.</summary>
    void Look(IEnumerable<PlantResponse> with, LoopLimits kept) =>
        at = [.. with.Select(r => (r, new GainRange(r, kept, shape.Integral, 1)))];

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
    ) => Best([plant], shape, limits, goal, cancellation)?[0];

    /// <summary>The best gains of a form for all of several plants, with what they do in each; null where none keep the limits in
    /// all.</summary>
    /// <inheritdoc cref="Best(LinearSystem, PidGains, LoopLimits, LoopGoal, CancellationToken)"/>
    public static IReadOnlyList<LoopFigures>? Best(
        IReadOnlyList<LinearSystem> plants,
        PidGains shape,
        LoopLimits limits,
        LoopGoal goal,
        CancellationToken cancellation = default
    )
    {
        if (!shape.HasIntegral)
            throw new ArgumentException("only forms with an integral part have a best integral gain", nameof(shape));
        limits.Check();
        // Which sign the plant asks for shows in what comes out.
        return ((int[])[1, -1])
            .Select(sign => new RobustPid(plants, limits, shape, sign, cancellation).Run(goal))
            .Where(f => f is not null)
            .MinBy(f => f!.Max(one => Cost(goal, one)));
    }

    /// <summary>What a goal makes as small as can be.</summary>
    public static double Cost(LoopGoal goal, LoopFigures figures) =>
        goal switch
        {
            LoopGoal.IntegralGain => -Math.Abs(figures.Gains.IntegralGain),
            LoopGoal.Load => figures.LoadIae ?? double.PositiveInfinity,
            _ => figures.SetPointIae ?? double.PositiveInfinity,
        };

    /// <summary>A point of the search: logarithms of the proportional gain and derivative time, and the share of the largest integral
    /// gain there.</summary>
    readonly record struct Point(double Kp, double Td, double Share);

    /// <summary>No integral of the absolute error is below that of the error: 1/ki after a load step, and of the set-point 1/ki over the
    /// plant's gain at rest, where it has one.</summary>
    double Bound(LoopGoal goal, double ki) =>
        goal == LoopGoal.Load ? 1 / ki : responses.Max(r => r.Integrators == 0 ? 1 / (ki * r.Values[0].Magnitude) : 0);

    IReadOnlyList<LoopFigures>? Run(LoopGoal goal)
    {
        Look(responses.Select(r => r.Coarse()), limits);
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
            Look(responses, kept);
            var (point, cost) = starts.Select(p => Refined(goal, p, round == 0 ? 0.15 : 0.02)).MinBy(p => p.Cost);
            if (!double.IsFinite(cost) || GainsAt(point) is not { } gains)
                return null;
            var written = Written(gains);
            var figures = plants.Select(p => LoopFigures.Of(written, p, cancellation)).ToList();
            var over = figures.Max(Over);
            if (over <= 1 + 1e-4)
                return figures.Exists(f => f.IsStable == false) ? null : figures;
            kept = kept.Tightened(over);
            if (!(kept.Sensitivity > 1))
                return null;
            starts = [point];
        }

        return null;
    }

    double Over(LoopFigures figures) => limits.PassedBy(figures);

    /// <summary>Gains as they are written.</summary>
    internal static PidGains Written(PidGains gains) => gains with { K = Rounded(gains.K), Ti = Rounded(gains.Ti), Td = Rounded(gains.Td) };

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
        var marks = responses.Select(Mark).ToList();
        var (centre, gain) = (Mean(marks.Select(m => m.Pace)), Mean(marks.Select(m => m.Gain)));
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

    internal static double Mean(IEnumerable<double> values) => Math.Exp(values.Average(Math.Log));

    /// <summary>Where the phase is such that a loop can have its bandwidth, rad/s, and the gain with which it has it about there.</summary>
    internal static (double Pace, double Gain) Mark(PlantResponse response)
    {
        var pace = Pace(response);
        var marks = response.Frequencies.Select((w, i) => (w, Gain: response.Values[i].Magnitude)).Where(m => m.Gain > 0);
        return (pace, 1 / marks.MinBy(m => Math.Abs(Math.Log(m.w / pace))).Gain);
    }

    /// <summary>The frequency where the plant's phase has turned by half a circle, or its fastest mark, rad/s.</summary>
    static double Pace(PlantResponse response)
    {
        var turned = 0.0;
        for (var i = 1; i < response.Values.Length; i++)
        {
            turned += (response.Values[i] / response.Values[i - 1]).Phase;
            if (turned < -Math.PI * (response.Integrators > 0 ? 0.5 : 1))
                return response.Frequencies[i];
        }

        return FrequencyGrid.Marks(response.Plant, PolesAndZeros.Poles(response.Plant)).Max();
    }

    PidGains Shaped(Point p)
    {
        var (kp, td) = (Math.Exp(p.Kp), double.IsNegativeInfinity(p.Td) ? 0 : Math.Exp(p.Td));
        return shape with { K = kp, Td = td, Ti = 1e300 };
    }

    (double From, double To)? RangeAt(Point p)
    {
        var without = Shaped(p) with { Form = shape.Form == PidForm.PID ? PidForm.PD : PidForm.P };
        var (from, to) = (0.0, double.PositiveInfinity);
        foreach (var (response, range) in at)
        {
            if (range.Best([.. response.Frequencies.Select(w => without.Feedback(new Complex(0, w)))]) is not { } found)
                return null;
            (from, to) = (Math.Max(from, found.From), Math.Min(to, found.To));
            if (from >= to)
                return null;
        }

        if (shape.ShortestTi(without.Td) is not (> 0 and var shortest))
            return (from, to);
        var most = without.K / shortest;
        return from < most ? (from, Math.Min(to, most)) : null;
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
        return ki > 0 ? shaped with { K = Sign * shaped.K, Ti = shaped.K / ki } : null;
    }

    /// <summary>The highest frequency of the grid at which the loop's gain is above one, rad/s.</summary>
    static double CrossingOf(PidGains gains, PlantResponse response)
    {
        var (frequencies, values) = (response.Frequencies, response.Values);
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
        var cost = 0.0;
        for (var i = 0; i < plants.Count && cost <= giveUp; i++)
        {
            var pace = 1 / CrossingOf(gains, at[i].Response);
            cost = Math.Max(
                cost,
                goal == LoopGoal.Load
                    ? ErrorIntegral.Load(gains, plants[i], pace, giveUp, rough)
                    : ErrorIntegral.SetPoint(gains, plants[i], pace, giveUp, rough)
            );
        }

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
