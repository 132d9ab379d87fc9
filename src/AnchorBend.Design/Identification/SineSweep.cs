using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;

namespace AnchorBend.Design.Identification;

/// <summary>How a running model is tested.</summary>
/// <param name="Frequencies">rad/s.</param>
/// <param name="Amplitude">Of the sine that is added.</param>
/// <param name="At">Instant from which on it is added, s; null for the state at rest.</param>
/// <param name="From">Signal whose wave the answer is over; null, or the signal itself, for the signal with the sine in it, as
/// those after it see it.</param>
/// <param name="To">Signal that answers; null for the signal before the sine, turned in sign: what goes around the loop.</param>
/// <param name="Limits">How far signals may move from where they were; beyond, the test of a frequency ends.</param>
/// <param name="Method">Integration method and steps; their end is not used.</param>
public sealed record SweepOptions(
    IReadOnlyList<double> Frequencies,
    double Amplitude,
    double? At,
    string? From,
    string? To,
    IReadOnlyList<(string Signal, double Deviation)> Limits,
    RunOptions Method
);

/// <summary>The answer at one frequency.</summary>
/// <param name="Frequency">rad/s.</param>
/// <param name="Value">Of the answering wave over the one that goes in.</param>
/// <param name="Coherence">Share of the answer that goes with the sine, over the last windows: |Σ Y X*|² / (Σ|X|² Σ|Y|²).</param>
/// <param name="Purity">Share of the answering signal's power, without its mean, that lies at this frequency.</param>
/// <param name="Seconds">Simulated, until the wave had settled and with what was averaged.</param>
/// <param name="Problem">Why nothing was measured; null where something was.</param>
public sealed record SweepPoint(double Frequency, Complex Value, double Coherence, double Purity, double Seconds, string? Problem);

/// <summary>
/// Measures frequency responses of a running model, with its switches, samples and limits, by the correlation method: a sine is added to a
/// signal, and once the waves have settled their Fourier coefficients over whole periods are taken (Ljung, "System Identification",
/// 2nd edition, section 6.2), less those of a twin run without the sine, so that what moves by itself, as in waves, is not taken for an
/// answer. Waves have settled when two windows one after the other differ by less than a thousandth. Where switching goes on between them
/// they never do; then windows are taken together as soon as the mean of their answers is known to a hundredth (its standard error), at the
/// end to a twentieth.
/// </summary>
public static class SineSweep
{
    const int PointsOfPeriod = 128,
        MostWindows = 60,
        LeastWindows = 3;

    const double Settled = 1e-3,
        Known = 1e-2,
        Rough = 5e-2;

    /// <summary>Windows that are needed to judge the scatter of their answers; a third of all is left out: the waves rise in it.</summary>
    const int Scattered = 6;

    /// <summary>Steps of a fixed-step method that a period must hold, and what a recording may take, bytes.</summary>
    const int StepsOfPeriod = 10;

    const long MostRecorded = 256L << 20;

    /// <summary>A window is at least this many periods long.</summary>
    const int Periods = 2;

    /// <exception cref="DesignException">A name is unknown, or a setting makes no sense.</exception>
    /// <exception cref="SimulationException">The model does not come to its operating point.</exception>
    public static IReadOnlyList<SweepPoint> Run(
        PreparedModel prepared,
        ParameterSet parameters,
        string signal,
        SweepOptions options,
        CancellationToken cancellation = default,
        Action<double>? progress = null
    )
    {
        if (!(options.Amplitude > 0) || !double.IsFinite(options.Amplitude))
            throw new DesignException(
                "amplitude",
                "The amplitude must be above zero.",
                "A hundredth of the signal's size suits most tests."
            );
        if (options.Frequencies.Any(w => !(w > 0) || !double.IsFinite(w)))
            throw new DesignException("frequency", "Frequencies must be above zero.", "Give them in rad/s.");
        var test = new SignalInjection(prepared, signal);
        int Index(string name) => (test.Prepared.Find(name) ?? throw Linearizer.Unknown(prepared.Model, name)).Index;
        var places = new Places(
            Index(options.From is null || prepared.Find(options.From)?.Name == test.Signal ? SignalInjection.Excited : options.From),
            Index(options.To ?? test.Signal),
            options.To is null && options.From is null ? -1 : 1,
            [.. options.Limits.Select(l => (Index(l.Signal), l.Deviation, l.Signal))]
        );
        var start = State(test, parameters, options.At, options.Method, cancellation);
        var points = new SweepPoint[options.Frequencies.Count];
        var done = 0;
        Parallel.For(0, points.Length, new ParallelOptions { CancellationToken = cancellation }, i =>
        {
            points[i] = new OneFrequency(test, parameters, options, places, start, options.Frequencies[i]).Measure(cancellation);
            progress?.Invoke((double)Interlocked.Increment(ref done) / points.Length);
        });
        return points;
    }

    /// <summary>An amplitude to begin with: a hundredth of the signal at the operating point; where it is nothing there, of one.</summary>
    public static double UsualAmplitude(PreparedModel prepared, OperatingPoint point, string signal) =>
        prepared.Find(signal) is { } v && Math.Abs(point.Values[v.Index]) is > 1e-9 and var size ? size / 100 : 0.01;

    /// <summary>The waves of one window.</summary>
    /// <param name="Purity">Share of the answering signal's power at the frequency.</param>
    readonly record struct Window(Complex In, Complex Out, double Purity);

    /// <summary>Variables that are looked at.</summary>
    sealed record Places(int From, int To, int Sign, IReadOnlyList<(int Variable, double Deviation, string Name)> Limits);

    /// <summary>The model at its operating point, from which all frequencies go on; null for the state at rest, from which they
    /// begin.</summary>
    internal static RunState? State(
        SignalInjection test,
        ParameterSet parameters,
        double? instant,
        RunOptions method,
        CancellationToken cancellation
    )
    {
        if (instant is not { } at || !(at > method.Start))
            return null;
        var run = method with { End = at, OutputTimes = [at], RecordEvents = false, Keep = [], OutputInterval = null };
        using var session = new RunSession(test.Prepared, test.Values(parameters.Values, 0, 1, at), run);
        session.Advance(new PauseAt(), cancellation);
        cancellation.ThrowIfCancellationRequested();
        return session.Failure is { } failure ? throw new SimulationException(failure) : session.Save().State;
    }

    sealed class OneFrequency(
        SignalInjection test,
        ParameterSet parameters,
        SweepOptions options,
        Places places,
        RunState? state,
        double frequency
    )
    {
        readonly double period = 2 * Math.PI / frequency,
            begin = state?.Time ?? options.Method.Start;
        readonly int[] keep = [.. ((int[])[places.From, places.To, .. places.Limits.Select(l => l.Variable)]).Distinct()];

        public SweepPoint Measure(CancellationToken cancellation)
        {
            try
            {
                return Measured(cancellation);
            }
            catch (SimulationException e)
            {
                return None(0, e.Message);
            }
        }

        SweepPoint Measured(CancellationToken cancellation)
        {
            var window = Periods * period;
            var run = options.Method with
            {
                Start = state is null ? options.Method.Start : begin,
                End = begin + MostWindows * window,
                OutputInterval = period / PointsOfPeriod,
                OutputTimes = null,
                RecordEvents = true,
                Keep = keep,
                SteadyStart = state is null && (options.At is null && options.Method.From is null || options.Method.SteadyStart),
                Script = null,
                TraceBudget = MostRecorded,
            };
            if (!run.IsAdaptive && StepsOfPeriod * run.Step > period)
                return None(0, $"The model's fixed step of {run.Step:G4} s is too long for this frequency.");
            RunSession With(double amplitude)
            {
                var values = test.Values(parameters.Values, amplitude, frequency, begin);
                return state is null ? new RunSession(test.Prepared, values, run) : RunSession.From(test.Prepared, values, run, state);
            }

            using var session = With(options.Amplitude);
            using var twin = With(0);
            var seen = new List<Window>();
            for (var k = 1; k <= MostWindows; k++)
            {
                foreach (var one in (RunSession[])[session, twin])
                {
                    one.Advance(new PauseAt { Time = begin + k * window }, cancellation);
                    cancellation.ThrowIfCancellationRequested();
                    if (one.Failure is { } failure)
                        return None(k * window, failure.Message);
                }

                if (Passed(session.Trace) is { } name)
                    return None(k * window, $"'{name}' moved further than it may; take a smaller amplitude.");
                var (from, to) = (begin + (k - 1) * window, begin + k * window);
                var (input, _) = Wave(session.Trace, places.From, from, to);
                var (output, purity) = Wave(session.Trace, places.To, from, to);
                input -= Wave(twin.Trace, places.From, from, to).Wave;
                output -= Wave(twin.Trace, places.To, from, to).Wave;
                seen.Add(new Window(input, output, purity));
                if (k > LeastWindows && IsSettled(seen))
                    return Found(seen[^2..], k * window);
                if (seen[(k / 3)..] is var late && IsKnown(late, Known))
                    return Found(late, k * window);
            }

            return IsKnown(seen[(MostWindows / 3)..], Rough)
                ? Found(seen[(MostWindows / 3)..], MostWindows * window)
                : None(MostWindows * window, "The answer did not settle: it drifts, or swings by itself.");
        }

        SweepPoint None(double seconds, string problem) => new(frequency, new Complex(double.NaN, double.NaN), 0, 0, seconds, problem);

        static bool IsSettled(List<Window> seen)
        {
            var (last, before) = (seen[^1], seen[^2]);
            return last.In.Magnitude > 0
                && (last.Out / last.In - before.Out / before.In).Magnitude <= Settled * (last.Out / last.In).Magnitude
                && (last.In - before.In).Magnitude <= Settled * last.In.Magnitude;
        }

        /// <summary>Whether the answer is known from windows that scatter: the standard error of a regression through nothing (Draper and
        /// Smith, "Applied Regression Analysis", section 1.4) is small beside it, both halves say the same, and they go to and fro: what
        /// still rises is not known.</summary>
        static bool IsKnown(List<Window> late, double known)
        {
            if (late.Count < Scattered || !GoToAndFro(late))
                return false;
            var (answer, error) = Regression(late);
            var (first, _) = Regression(late[..(late.Count / 2)]);
            var (second, _) = Regression(late[(late.Count / 2)..]);
            return error <= known * answer.Magnitude && (first - second).Magnitude <= 4 * Math.Max(error, known / 4 * answer.Magnitude);
        }

        /// <summary>Whether answers turn as often as independent ones do: two of three inner points are turning points of such a series
        /// (Kendall and Stuart, "The Advanced Theory of Statistics" 3, section 45.17); half as many are asked for.</summary>
        static bool GoToAndFro(List<Window> windows)
        {
            double[] sizes = [.. windows.Select(w => (w.Out / w.In).Magnitude)];
            var turns = Enumerable.Range(1, sizes.Length - 2).Count(i => sizes[i] > sizes[i - 1] != sizes[i + 1] > sizes[i]);
            return 3 * turns >= sizes.Length - 2;
        }

        static (Complex Answer, double Error) Regression(List<Window> windows)
        {
            Complex cross = 0;
            var inputs = 0.0;
            foreach (var (x, y, _) in windows)
            {
                cross += y * Complex.Conjugate(x);
                inputs += x.Magnitude * x.Magnitude;
            }

            var answer = cross / inputs;
            var left = windows.Sum(w => Math.Pow((w.Out - answer * w.In).Magnitude, 2));
            return (answer, Math.Sqrt(left / Math.Max(1, windows.Count - 1) / inputs));
        }

        SweepPoint Found(List<Window> last, double seconds)
        {
            Complex cross = 0;
            var (inputs, outputs) = (0.0, 0.0);
            foreach (var (x, y, _) in last)
            {
                cross += y * Complex.Conjugate(x);
                inputs += x.Magnitude * x.Magnitude;
                outputs += y.Magnitude * y.Magnitude;
            }

            if (!(outputs > 0))
                return None(seconds, "Nothing answers: a limit may be active there, or no way leads from the sine to the signal.");
            var coherence = cross.Magnitude * cross.Magnitude / (inputs * outputs);
            return new SweepPoint(
                frequency,
                places.Sign * cross / inputs,
                Math.Min(1, coherence),
                last.Average(l => l.Purity),
                seconds,
                null
            );
        }

        int looked;

        /// <summary>The first signal that moved too far since it was asked last.</summary>
        string? Passed(Trace trace)
        {
            for (; looked < trace.Rows; looked++)
                foreach (var (variable, deviation, name) in places.Limits)
                    if (Math.Abs(trace[looked, variable] - trace[0, variable]) > deviation)
                        return name;
            return null;
        }

        /// <summary>The Fourier coefficient of a signal over a window of whole periods, without its mean and drift, and the share of its
        /// power that lies there. Both sides of a jump are in the trace, so its steps are summed as they are.</summary>
        (Complex Wave, double Purity) Wave(Trace trace, int variable, double from, double to)
        {
            var (first, last) = (trace.RowsUpTo(from) - 1, trace.RowsUpTo(to) - 1);
            var slope = (trace[last, variable] - trace[first, variable]) / (to - from);
            double Value(int row) => trace[row, variable] - slope * (trace.Times[row] - from);
            var mean = 0.0;
            for (var row = first + 1; row <= last; row++)
                mean += (trace.Times[row] - trace.Times[row - 1]) * (Value(row) + Value(row - 1)) / 2;
            mean /= to - from;
            Complex sum = 0;
            var power = 0.0;
            for (var row = first + 1; row <= last; row++)
            {
                var h = trace.Times[row] - trace.Times[row - 1];
                var (a, b) = (Value(row - 1) - mean, Value(row) - mean);
                sum +=
                    h
                    / 2
                    * (
                        a * Complex.Exp(new Complex(0, -frequency * (trace.Times[row - 1] - begin)))
                        + b * Complex.Exp(new Complex(0, -frequency * (trace.Times[row] - begin)))
                    );
                power += h * (a * a + b * b) / 2;
            }

            var wave = 2 / (to - from) * sum;
            var whole = power / (to - from);
            return (wave, whole > 0 ? Math.Min(1, wave.Magnitude * wave.Magnitude / 2 / whole) : 0);
        }
    }
}
