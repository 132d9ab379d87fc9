using System.Globalization;
using System.Numerics;

namespace AnchorBend.Design;

/// <summary>Bandwidths that a form does not reach, and why.</summary>
/// <param name="From">rad/s; the edge of the map or of what is reached.</param>
/// <param name="To">rad/s.</param>
/// <param name="Why">A sentence.</param>
public sealed record MapShore(double From, double To, string Why)
{
    /// <summary>A delay or zero that takes this much of the phase, in degrees, is what stops a loop.</summary>
    const double Much = 40;

    public static IReadOnlyList<MapShore> Of(PlantResponse plant, LoopController shape, DesignMap map)
    {
        var reached = Enumerable.Range(0, map.Bandwidths.Length).Where(c => map.Places.Any(row => row[c] is not null)).ToList();
        var shores = new List<MapShore>();
        if (reached.Count == 0)
            return shores;
        if (reached[0] > 0)
            shores.Add(new MapShore(map.Bandwidths[0], map.Bandwidths[reached[0]], TooSlow(plant, shape)));
        if (reached[^1] < map.Bandwidths.Length - 1)
        {
            var edge = map.Bandwidths[reached[^1] + 1];
            shores.Add(new MapShore(edge, map.Bandwidths[^1], TooFast(plant, shape, edge)));
        }

        return shores;
    }

    static string TooSlow(PlantResponse plant, LoopController shape) =>
        plant.Unstable > 0 ? "The plant is unstable by itself; a slower loop does not hold it."
        : plant.Integrators + (shape.HasIntegral ? 1 : 0) > 1
            ? $"The plant integrates, and so does the controller: slower than this a {shape.Told} has no phase left."
        : $"No {shape.Told} is so slow with a peak of the sensitivity that lies on this map.";

    static string TooFast(PlantResponse plant, LoopController shape, double bandwidth)
    {
        static string Text(double value) => value.ToString("G3", CultureInfo.InvariantCulture);
        static string Time(double seconds) => seconds < 1 ? Text(1000 * seconds) + " ms" : Text(seconds) + " s";
        var dead = plant.Plant.Delays.Sum();
        var late = dead * bandwidth * 180 / Math.PI;
        var scale = FrequencyGrid.Marks(plant.Plant, PolesAndZeros.Poles(plant.Plant)).Max();
        var zeros = PolesAndZeros
            .Zeros(plant.Plant)
            .Where(z => Complex.IsFinite(z) && z.Real > 1e-6 * z.Magnitude && z.Magnitude > 1e-9 * scale)
            .ToList();
        // A right-half-plane zero takes as much as its twin on the left would give, twice.
        // Those that stand for the dead time are no others.
        var turned = Math.Max(
            0,
            zeros.Sum(z => 2 * Math.Atan2(SampledPlane.Place(bandwidth, shape.Period), z.Magnitude)) * 180 / Math.PI - late
        );
        if (late > Much && late >= turned)
            return $"{Time(dead)} of dead time leave no phase.";
        if (turned > Much && shape.Period > 0)
            return $"A sample every {Time(shape.Period)}, with the dead time there is, leaves no phase.";
        if (turned > Much)
            return $"A zero in the right half plane at {Text(zeros.Min(z => z.Magnitude))} rad/s leaves no phase.";
        var added = shape is PidGains { Form: PidForm.PD or PidForm.PID } pid
            ? $"adds at most {new PidPhase(pid, SampledPlane.Place(bandwidth, shape.Period)).Lead:F0}°"
            : "adds none";
        return $"Its lags take the phase that a loop needs; {(shape is PidGains ? $"a {shape.Name}" : "this form")} {added}.";
    }
}
