using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Terms;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;

namespace AnchorBend.Design.Identification;

/// <summary>What is added to a signal of the running model.</summary>
public enum TestKind
{
    /// <summary>A level that stays.</summary>
    Step,

    /// <summary>A level for a tenth of the test.</summary>
    Pulse,

    /// <summary>A level that turns its sign whenever the answer passes where it was.</summary>
    Relay,
}

/// <param name="Height">Of the level that is added.</param>
/// <param name="Duration">Of the test, s.</param>
/// <param name="At">Instant from which on it is added, s; null for the start of the run.</param>
/// <param name="To">Signal that answers.</param>
/// <param name="Limits">How far signals may move from where they were; beyond, the test ends.</param>
/// <param name="Method">Integration method and steps; their end is not used.</param>
public sealed record TransientOptions(
    TestKind Kind,
    double Height,
    double Duration,
    double? At,
    string To,
    IReadOnlyList<(string Signal, double Deviation)> Limits,
    RunOptions Method
);

/// <summary>
/// Tests of a running model by a step, a pulse or a relay beside whatever else acts on it, as a controller that is closed. What both the
/// signal with the test in it and the answer do beyond a twin run without a test is transformed, and their ratio is the response between
/// them, whatever closes a loop around (Ljung, "System Identification", 2nd edition, section 6.4: of what begins and ends at rest the
/// transforms are exact; of a step its derivative). A relay makes the loop swing, and its last turns give the response at their frequency
/// and its odd multiples (Åström and Hägglund, Automatica 20, 1984).
/// </summary>
/// <param name="Times">s from the beginning of the test on.</param>
/// <param name="Input">What the signal with the test in it does beyond its twin.</param>
/// <param name="Output">Likewise of the answer.</param>
/// <param name="Moved">How far the answer moved by itself meanwhile, in the twin run: where that is much, it is no one point that was
/// tested.</param>
public sealed record TransientTest(double[] Times, double[] Input, double[] Output, IReadOnlyList<SweepPoint> Points, double Moved)
{
    const int Samples = 4000,
        Frequencies = 40,
        MostTurns = 200,
        Turns = 4;

    /// <summary>The part of the test that the pulse takes, and what may be left of an answer at its end.</summary>
    const double PulseShare = 0.1,
        Left = 0.02;

    /// <summary>Answers below this part of the largest are rounding and steps of the method.</summary>
    const double Least = 1e-3;

    const long MostRecorded = 256L << 20;

    /// <exception cref="DesignException">A name is unknown, a setting makes no sense, or the test shows nothing.</exception>
    /// <exception cref="SimulationException">The model does not come to its operating point, or fails in the test.</exception>
    public static TransientTest Run(
        PreparedModel prepared,
        ParameterSet parameters,
        string signal,
        TransientOptions options,
        CancellationToken cancellation = default
    )
    {
        if (options.Height == 0 || !double.IsFinite(options.Height))
            throw new DesignException("amplitude", "The height must not be zero.", "A hundredth of the signal's size suits most tests.");
        if (!(options.Duration > 0) || !double.IsFinite(options.Duration))
            throw new DesignException("duration", "The duration must be above zero.", "Ten times the loop's slowest time suits a step.");
        var test = new SignalInjection(prepared, signal);
        var work = new Work(test, parameters, options, cancellation);
        return options.Kind == TestKind.Relay ? work.Relay() : work.Once();
    }

    sealed class Work
    {
        readonly SignalInjection test;
        readonly TransientOptions options;
        readonly CancellationToken cancellation;
        readonly ParameterSet values;
        readonly RunState? state;
        readonly RunOptions run;
        readonly int input,
            output;
        readonly double begin;
        readonly IReadOnlyList<(int Variable, double Deviation, string Name)> limits;

        public Work(SignalInjection test, ParameterSet parameters, TransientOptions options, CancellationToken cancellation)
        {
            (this.test, this.options, this.cancellation) = (test, options, cancellation);
            int Index(string name) => (test.Prepared.Find(name) ?? throw Linearizer.Unknown(test.Prepared.Model, name)).Index;
            (input, output) = (Index(SignalInjection.Excited), Index(options.To));
            limits = [.. options.Limits.Select(l => (Index(l.Signal), l.Deviation, l.Signal))];
            values = test.Values(parameters.Values, 0, 1, 0);
            state = SineSweep.State(test, parameters, options.At, options.Method, cancellation);
            begin = state?.Time ?? options.Method.Start;
            run = options.Method with
            {
                Start = begin,
                End = begin + options.Duration,
                OutputInterval = options.Duration / Samples,
                OutputTimes = null,
                RecordEvents = true,
                Keep = [.. ((int[])[input, output, .. limits.Select(l => l.Variable)]).Distinct()],
                SteadyStart = state is null && (options.At is null && options.Method.From is null || options.Method.SteadyStart),
                Script = null,
                TraceBudget = MostRecorded,
            };
        }

        RunSession Session() =>
            state is null ? new RunSession(test.Prepared, values, run) : RunSession.From(test.Prepared, values, run, state);

        void Advance(RunSession session, PauseAt at)
        {
            session.Advance(at, cancellation);
            cancellation.ThrowIfCancellationRequested();
            if (session.Failure is { } failure)
                throw new SimulationException(failure);
            var trace = session.Trace;
            foreach (var (variable, deviation, name) in limits)
                for (var row = 0; row < trace.Rows; row++)
                    if (Math.Abs(trace[row, variable] - trace[0, variable]) > deviation)
                        throw new DesignException(
                            "limit",
                            FormattableString.Invariant(
                                $"'{name}' moved further than it may, {trace.Times[row] - begin:G4} s into the test."
                            ),
                            "Take a smaller height, or allow more."
                        );
        }

        static void Set(RunSession session, double level)
        {
            if (!session.Set(SignalInjection.Level, level))
                throw new DesignException("level", "The level cannot be set in this model.", "Take another signal.");
        }

        RunSession Twin()
        {
            var twin = Session();
            Advance(twin, new PauseAt());
            return twin;
        }

        /// <summary>A step or a pulse.</summary>
        public TransientTest Once()
        {
            using var twin = Twin();
            using var session = Session();
            // The start is made without it, so that the step is seen as one.
            Advance(session, new PauseAt { Time = begin + 1e-9 * options.Duration });
            Set(session, options.Height);
            if (options.Kind == TestKind.Pulse)
            {
                Advance(session, new PauseAt { Time = begin + PulseShare * options.Duration });
                Set(session, 0);
            }

            Advance(session, new PauseAt());
            var (times, u, y) = Beyond(session.Trace, twin.Trace);
            var most = y.Max(Math.Abs);
            if (!(most > 0))
                throw new DesignException("no-answer", "Nothing answers the test.", "Take another signal, or a greater height.");
            var end = y[^1];
            var late = y.Where((_, i) => times[i] > 0.9 * options.Duration).ToList();
            if (late.Max() - late.Min() > Left * most)
                throw new DesignException(
                    "unsettled",
                    "The answer still moves at the end of the test, so its response cannot be told.",
                    Advice(twin.Trace, most, "Let the test last longer, or close a loop that holds the plant.")
                );
            if (options.Kind == TestKind.Pulse && Math.Abs(end) > Left * most)
                throw new DesignException(
                    "unsettled",
                    "After the pulse the answer does not come back.",
                    Advice(twin.Trace, most, "Test by a step, or close a loop that holds the plant.")
                );
            var low = Math.PI / options.Duration;
            var found = FrequencyGrid
                .Between(low, 300 * low, Frequencies)
                .Select(w => (Frequency: w, In: Transform(times, u, w), Out: Transform(times, y, w)))
                .ToList();
            var (largest, loudest) = (found.Max(f => f.Out.Magnitude), found.Max(f => f.In.Magnitude));
            return new TransientTest(
                times,
                u,
                y,
                [
                    .. found
                        .Where(f => f.Out.Magnitude > Least * largest && f.In.Magnitude > Least * loudest)
                        .Select(f => new SweepPoint(f.Frequency, f.Out / f.In, 1, 1, options.Duration, null)),
                ],
                Moved(twin.Trace)
            );
        }

        double Moved(Trace twin)
        {
            var (low, high) = (double.PositiveInfinity, double.NegativeInfinity);
            for (var row = 0; row < twin.Rows; row++)
                (low, high) = (Math.Min(low, twin[row, output]), Math.Max(high, twin[row, output]));
            return twin.Rows > 0 ? high - low : 0;
        }

        string Advice(Trace twin, double answer, string otherwise) =>
            Moved(twin) is var moved && moved > Math.Max(answer, 1e-9)
                ? FormattableString.Invariant(
                    $"Without the test the answer moves by {moved:G3} meanwhile: choose an instant and a duration in which the model rests."
                )
                : otherwise;

        /// <summary>The transform of a signal's derivative: of what begins at zero and stays where it is at its end.</summary>
        static Complex Transform(double[] times, double[] values, double w)
        {
            Complex sum = 0;
            for (var i = 1; i < times.Length; i++)
                sum += (times[i] - times[i - 1]) / 2 * (Turned(i - 1) + Turned(i));
            return values[^1] * Complex.Exp(new Complex(0, -w * times[^1])) + new Complex(0, w) * sum;

            Complex Turned(int i) => values[i] * Complex.Exp(new Complex(0, -w * times[i]));
        }

        /// <summary>What two signals do beyond their twins, by straight lines between the twin's points.</summary>
        (double[] Times, double[] Input, double[] Output) Beyond(Trace trace, Trace twin)
        {
            var times = trace.Times.ToArray();
            double[] Difference(int variable)
            {
                var difference = new double[times.Length];
                var at = 0;
                for (var i = 0; i < times.Length; i++)
                {
                    while (at < twin.Rows - 2 && twin.Times[at + 1] <= times[i])
                        at++;
                    var (a, b) = (twin.Times[at], twin.Times[at + 1]);
                    var share = b > a ? Math.Clamp((times[i] - a) / (b - a), 0, 1) : 1;
                    difference[i] = trace[i, variable] - twin[at, variable] - share * (twin[at + 1, variable] - twin[at, variable]);
                }

                return difference;
            }

            return ([.. times.Select(t => t - begin)], Difference(input), Difference(output));
        }

        /// <summary>A relay beside what else acts on the signal, with the sign that makes the loop swing.</summary>
        public TransientTest Relay()
        {
            using var twin = Twin();
            return Swinging(twin, 1)
                ?? Swinging(twin, -1)
                ?? throw new DesignException(
                    "no-swing",
                    "The relay does not make the loop swing: its answer does not come back to where it was.",
                    "Let the test last longer, or test by a step."
                );
        }

        TransientTest? Swinging(RunSession twin, int sign)
        {
            using var session = Session();
            Advance(session, new PauseAt { Time = begin + 1e-9 * options.Duration });
            var rest = session.Trace[session.Trace.Rows - 1, output];
            var level = Math.Abs(options.Height);
            Set(session, level);
            var crossings = new List<double>();
            while (!session.IsOver && crossings.Count < MostTurns)
            {
                // What has gone above comes down at the next level, and the other way round.
                var isAbove = sign * level > 0;
                var term = TermBuilder.Binary(
                    isAbove ? Operator.Greater : Operator.Less,
                    new VariableTerm(output),
                    Term.Of(rest + (isAbove ? 1 : -1) * Hysteresis(session, rest))
                );
                Advance(session, new PauseAt { Stops = [new Stop(term, "relay")] });
                if (session.IsOver)
                    break;
                crossings.Add(session.Time - begin);
                level = -level;
                Set(session, level);
            }

            if (crossings.Count < 2 * Turns + 2)
                return null;
            var (times, u, y) = Beyond(session.Trace, twin.Trace);
            // Two crossings are a turn; the last ones have settled.
            var (from, to) = (crossings[^(2 * Turns + 1)], crossings[^1]);
            var turn = (to - from) / Turns;
            var points = new List<SweepPoint>();
            foreach (var multiple in (int[])[1, 3, 5])
            {
                var w = 2 * Math.PI * multiple / turn;
                var (x, z) = (Wave(times, u, w, from, to), Wave(times, y, w, from, to));
                points.Add(new SweepPoint(w, z / x, 1, 1, to, null));
            }

            return new TransientTest(times, u, y, points, Moved(twin.Trace));
        }

        /// <summary>A little beyond where it was, so that rounding turns nothing.</summary>
        double Hysteresis(RunSession session, double rest)
        {
            var most = 0.0;
            for (var row = Math.Max(0, session.Trace.Rows - Samples / 10); row < session.Trace.Rows; row++)
                most = Math.Max(most, Math.Abs(session.Trace[row, output] - rest));
            return Math.Max(1e-3 * most, 1e-12 * Math.Abs(rest));
        }

        static Complex Wave(double[] times, double[] values, double w, double from, double to)
        {
            Complex sum = 0;
            for (var i = 1; i < times.Length; i++)
            {
                if (times[i - 1] < from || times[i] > to)
                    continue;
                sum +=
                    (times[i] - times[i - 1])
                    / 2
                    * (
                        values[i - 1] * Complex.Exp(new Complex(0, -w * times[i - 1]))
                        + values[i] * Complex.Exp(new Complex(0, -w * times[i]))
                    );
            }

            return sum;
        }
    }
}
