using System.Numerics;

namespace AnchorBend.Design;

/// <summary>A plant by its frequency response on a grid that shows every turn, for the design of loops around it.</summary>
public sealed class PlantResponse
{
    const double PerDecade = 60,
        Beyond = 1000;

    /// <summary>Turns of the phase by delays that the grid follows, in steps of a part of a radian; beyond, any phase is taken to
    /// occur.</summary>
    const double DelayTurns = 12,
        DelayStep = 0.2;

    /// <summary>On the plane of samples poles at zero are known to this share of the sample frequency: two of them, at one place of the
    /// unit circle, are found a root of the rounding apart.</summary>
    const double NearOne = 1e-6;

    /// <param name="sign">1, or −1 for the plant with its sign turned.</param>
    /// <param name="period">Of the samples, where the plant is on their plane; else 0.</param>
    /// <exception cref="DesignException">Whether the plant is stable could not be decided.</exception>
    public PlantResponse(LinearSystem plant, int sign, double period = 0, CancellationToken cancellation = default)
    {
        (Plant, Sign) = (plant, sign);
        var poles = PolesAndZeros.Poles(plant);
        var zeros = PolesAndZeros.Zeros(plant);
        var largest = poles.Select(p => p.Magnitude).DefaultIfEmpty(0).Max();
        var zero = period > 0 ? NearOne / period : 1e-9 * largest;
        Complex[] roots = period > 0 ? [.. poles.Concat(zeros).Where(r => r.Magnitude > zero)] : [.. poles, .. zeros];
        var marks = FrequencyGrid.Marks(plant, roots);
        double low = marks.Min() / Beyond,
            high = marks.Max() * Beyond;
        var count = (int)Math.Ceiling(PerDecade * Math.Log10(high / low));
        var points = Enumerable.Range(0, count + 1).Select(i => low * Math.Pow(high / low, (double)i / count)).ToList();
        foreach (var root in roots)
            points.AddRange(FrequencyGrid.Around(root).Where(w => w > low && w < high));
        var turn = plant.Delays.Sum();
        Resolved = double.PositiveInfinity;
        if (turn > 0)
        {
            Resolved = 2 * Math.PI * DelayTurns / turn;
            for (var w = DelayStep / turn * PerDecade / Math.Log(10); w < Math.Min(Resolved, high); w += DelayStep / turn)
                points.Add(w);
        }

        // A pole that a zero takes away is not seen from outside.
        var integrators = plant.Delays.Length > 0 ? ZeroRoots(plant) : poles.Count(p => p.Magnitude <= zero);
        Integrators = Math.Max(0, integrators - zeros.Count(z => z.Magnitude <= zero));
        // What lies on the axis counts as left of it: the path around it keeps to the right.
        OnAxis =
        [
            .. poles
                .Where(p => p.Imaginary > 0 && Math.Abs(p.Real) < 1e-7 * p.Magnitude && p.Magnitude > zero)
                .Where(p => !zeros.Any(z => (z - p).Magnitude < 1e-7 * p.Magnitude))
                .Select(p => p.Imaginary)
                .Order(),
        ];
        var grid = new List<double>();
        var values = new List<Complex>();
        foreach (var w in points.Distinct().Order())
        {
            cancellation.ThrowIfCancellationRequested();
            // Nearer to an undamped pole rounding decides on which side of it a point lies.
            if (Array.Exists(OnAxis, p => Math.Abs(w - p) < 1e-6 * p))
                continue;
            var value = plant.At(new Complex(0, w));
            if (!Complex.IsFinite(value))
                continue;
            grid.Add(w);
            values.Add(sign * value);
        }

        (Frequencies, Values) = ([.. grid], [.. values]);
        Unstable =
            plant.Delays.Length == 0
                ? poles.Count(p => p.Real > 1e-7 * p.Magnitude && p.Magnitude > zero)
                : RightHalfPlane.Count(plant, cancellation)
                    ?? throw new DesignException(
                        "undecided",
                        "Whether the plant by itself is stable could not be decided, and without it nothing can be said of a loop.",
                        "Shorten its dead times, or take out what is much faster than the loop."
                    );
    }

    public LinearSystem Plant { get; }

    public int Sign { get; }

    /// <summary>Rising, rad/s.</summary>
    public double[] Frequencies { get; }

    public Complex[] Values { get; }

    /// <summary>The same on some of the points, for a first look.</summary>
    /// <param name="every">Which of them: every third one, say.</param>
    public PlantResponse Coarse(int every = 3) => new(this, [.. Enumerable.Range(0, Frequencies.Length).Where(i => i % every == 0)]);

    PlantResponse(PlantResponse whole, int[] points)
    {
        (Plant, Sign, Resolved, Integrators, OnAxis, Unstable) = (
            whole.Plant,
            whole.Sign,
            whole.Resolved,
            whole.Integrators,
            whole.OnAxis,
            whole.Unstable
        );
        Frequencies = [.. points.Select(i => whole.Frequencies[i])];
        Values = [.. points.Select(i => whole.Values[i])];
    }

    /// <summary>Up to where the turning by delays is followed, rad/s.</summary>
    public double Resolved { get; }

    /// <summary>Poles at zero.</summary>
    public int Integrators { get; }

    /// <summary>Frequencies of undamped poles, rad/s.</summary>
    public double[] OnAxis { get; }

    /// <summary>Poles in the right half plane.</summary>
    public int Unstable { get; }

    /// <summary>Poles at zero of the part without delays; with delays approximated they would move.</summary>
    static int ZeroRoots(LinearSystem plant)
    {
        var own = PolesAndZeros.Eigenvalues(plant.A);
        var largest = own.Select(p => p.Magnitude).DefaultIfEmpty(0).Max();
        return own.Count(p => p.Magnitude <= 1e-9 * Math.Max(largest, 1e-300));
    }

    /// <summary>
    /// Whether a loop with a controller is stable, by the change of the argument of 1 + C G along the grid (Nyquist, Bell Syst. Tech.
    /// J. 11, 1932): from low to high it is π/2 for each pole of C G at zero and π for each one on the right, less π for each
    /// closed-loop pole on the right.
    /// </summary>
    /// <param name="controller">The controller's values on the grid.</param>
    /// <param name="integrators">Its poles at zero.</param>
    public bool IsStable(Complex[] controller, int integrators)
    {
        var change = 0.0;
        var axis = 0;
        var before = Complex.One + controller[0] * Values[0];
        for (var i = 1; i < Frequencies.Length; i++)
        {
            var now = Complex.One + controller[i] * Values[i];
            var turn = (now / before).Phase;
            while (axis < OnAxis.Length && OnAxis[axis] < Frequencies[i])
            {
                // Passing a pole on its right side turns by −π.
                if (OnAxis[axis] > Frequencies[i - 1] && turn > 0)
                    turn -= 2 * Math.PI;
                axis++;
            }

            change += turn;
            before = now;
        }

        // At the ends the argument may not have come to its limits.
        var right = (Integrators + integrators) / 2.0 + Unstable - change / Math.PI;
        return Math.Abs(right) < 0.3;
    }

    /// <summary>The lowest value of the parabola through three neighbours on the grid, the middle one of which is the lowest.</summary>
    /// <param name="last">Index of the last of the three.</param>
    internal double Lowest(int last, double first, double middle, double end)
    {
        double left = Frequencies[last - 1] - Frequencies[last - 2],
            right = Frequencies[last] - Frequencies[last - 1];
        double rise = (first - middle) / left,
            fall = (end - middle) / right;
        var curvature = (rise + fall) / (left + right);
        var slope = (fall * left - rise * right) / (left + right);
        return curvature > 0 && double.IsFinite(curvature) ? Math.Max(0, middle - slope * slope / (4 * curvature)) : middle;
    }
}
