using AnchorBend.Numerics.Spectra;
using AnchorBend.Simulation.Recording;
using AnchorBend.Verification;
using AnchorBend.Verification.Measures;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;
using AnchorBend.Workbench.Runs;

namespace AnchorBend.Server.Endpoints;

/// <summary>Amplitudes over orders, one row a line of the map; in the unit that the model computes in.</summary>
public sealed record OrderMapView(double[] Orders, double[] Speeds, double[] Times, double[][] Amplitudes);

/// <summary>Shares of the time between edges.</summary>
public sealed record HistogramView(double[] Edges, double[] Shares);

/// <summary>Plots other than curves over time, computed from what a run recorded.</summary>
static class PlotEndpoints
{
    static readonly TimeSpan MostComputing = TimeSpan.FromSeconds(20);

    const int MostClasses = 1000,
        MostPoints = 4000,
        MostOrders = 40;

    static readonly Dictionary<string, ReducedCurve> NoCurves = [];

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/runs/{id}/spectrum", SpectrumOf).WithName("getSpectrum").Produces<byte[]>(contentType: "application/octet-stream");
        api.MapGet("/runs/{id}/figures", FiguresOf).WithName("getFigures").ProducesProblem(404).ProducesProblem(422);
        api.MapGet("/runs/{id}/histogram", HistogramOf).WithName("getHistogram").ProducesProblem(404).ProducesProblem(422);
        api.MapGet("/runs/{id}/orders", OrdersOf).WithName("getOrders").ProducesProblem(404).ProducesProblem(422);
        api.MapGet("/runs/{id}/against", Against).WithName("getAgainst").Produces<byte[]>(contentType: "application/octet-stream");
    }

    /// <summary>Figures of signals between two instants, null for those that have none.</summary>
    /// <param name="scale">How each signal is read: scale · value + shift.</param>
    static StretchFigures?[] FiguresOf(
        string id,
        string[] signal,
        double from,
        double to,
        double[]? scale,
        double[]? shift,
        RunPool runs,
        ComputeGate gate,
        CancellationToken wanted
    )
    {
        Requests.AtMost(RunResults.MostSignals, signal, "signals");
        if (scale is { Length: > 0 } && scale.Length != signal.Length || shift is { Length: > 0 } && shift.Length != signal.Length)
            throw new RequestException("'scale' and 'shift' take one number for each signal.");
        var job = Found(id, runs, wanted);
        if (Window(job, from, to) is not var (first, last))
            return new StretchFigures?[signal.Length];
        var results = new RunResults(job);
        return gate.Run(MostComputing, wanted, _ =>
            signal
                .Select(
                    (name, i) =>
                        results.Curve(name) is { } curve
                            ? StretchFigures.Of(
                                curve,
                                first,
                                last,
                                scale is { Length: > 0 } ? scale[i] : 1,
                                shift is { Length: > 0 } ? shift[i] : 0
                            )
                            : null
                )
                .ToArray()
        );
    }

    static RunJob Found(string id, RunPool runs, CancellationToken wanted) => runs.Find(id, wanted) ?? throw NotFoundException.Run(id);

    /// <summary>The stretch of a run that is looked at; null where the run holds nothing of it.</summary>
    static (double From, double To)? Window(RunJob job, double? from, double? to)
    {
        if (from is { } f && !double.IsFinite(f) || to is { } t && !double.IsFinite(t))
            throw new RequestException("'from' and 'to' are times.");
        var (first, last) = (Math.Max(from ?? job.Options.Start, job.Options.Start), Math.Min(to ?? job.Options.End, job.Reached));
        return last > first && job.Trace is { Rows: > 1 } ? (first, last) : null;
    }

    /// <summary>Spectra of signals, in the form of traces: frequencies in Hz in the place of times.</summary>
    static IResult SpectrumOf(
        string id,
        string[] signal,
        double? from,
        double? to,
        string? window,
        int? averages,
        string? form,
        RunPool runs,
        ComputeGate gate,
        CancellationToken wanted
    )
    {
        Requests.AtMost(RunResults.MostSignals, signal, "signals");
        if (form is not (null or "amplitude" or "density"))
            throw new RequestException("'form' is amplitude or density.");
        if (!WindowFunction.Names.Contains(window ?? "hann"))
            throw new RequestException($"'window' is one of {string.Join(", ", WindowFunction.Names)}.");
        var job = Found(id, runs, wanted);
        if (Window(job, from, to) is not var (first, last))
            return TypedResults.Bytes(RunResults.Packed(signal, NoCurves), "application/octet-stream");
        var results = new RunResults(job);
        var stretches = Math.Clamp(averages ?? 1, 1, 1000);
        return TypedResults.Bytes(gate.Run(MostComputing, wanted, _ =>
            {
                var found = new Dictionary<string, ReducedCurve>();
                foreach (var name in signal.Distinct())
                {
                    if (results.Curve(name) is not { } curve || curve.Values.Any(v => !double.IsFinite(v)))
                        continue;
                    var (samples, rate) = Resampling.Evenly(curve, first, last);
                    var spectrum =
                        form == "density"
                            ? Spectrum.Density(samples, rate, window ?? "hann", stretches)
                            : Spectrum.Amplitude(samples, rate, window ?? "hann", stretches);
                    found[name] = Thinned(spectrum);
                }

                return RunResults.Packed(signal, found);
            }), "application/octet-stream");
    }

    /// <summary>A spectrum with at most so many lines that a screen shows them: of neighbouring lines the highest stays.</summary>
    static ReducedCurve Thinned(Spectrum spectrum)
    {
        var count = spectrum.Values.Length;
        if (count <= MostPoints)
            return new ReducedCurve(spectrum.Frequencies, spectrum.Values);
        var (times, values) = (new List<double>(), new List<double>());
        // Columns grow with the frequency, as a logarithmic axis shows them: low lines all stay.
        for (var k = 0; k < count; )
        {
            var end = Math.Min(count, k + Math.Max(1, k / (MostPoints / 10)));
            var best = k;
            for (var i = k; i < end; i++)
                if (spectrum.Values[i] > spectrum.Values[best])
                    best = i;
            times.Add(spectrum.Frequencies[best]);
            values.Add(spectrum.Values[best]);
            k = end;
        }

        return new ReducedCurve([.. times], [.. values]);
    }

    /// <summary>A signal that has a value at every instant.</summary>
    /// <exception cref="NotFoundException">The run does not have it.</exception>
    /// <exception cref="RefusedException">It has gaps, as an imported run may.</exception>
    static Curve Whole(RunResults results, string signal)
    {
        var curve = results.Curve(signal) ?? throw new NotFoundException($"The run has no signal '{signal}'.");
        return curve.Values.All(double.IsFinite)
            ? curve
            : throw new RefusedException("Values of this signal are missing in the run.", "Show it over time, or take another signal.");
    }

    static HistogramView HistogramOf(
        string id,
        string signal,
        double? from,
        double? to,
        int? classes,
        RunPool runs,
        ComputeGate gate,
        CancellationToken wanted
    )
    {
        var job = Found(id, runs, wanted);
        if (Window(job, from, to) is not var (first, last))
            return new HistogramView([], []);
        var curve = Whole(new RunResults(job), signal);
        var (edges, shares) = gate.Run(MostComputing, wanted, _ =>
            Resampling.Histogram(curve, first, last, Math.Clamp(classes ?? 40, 1, MostClasses))
        );
        return new HistogramView(edges, shares);
    }

    static OrderMapView OrdersOf(
        string id,
        string signal,
        string speed,
        double? from,
        double? to,
        int? turns,
        RunPool runs,
        ComputeGate gate,
        CancellationToken wanted
    )
    {
        var job = Found(id, runs, wanted);
        if (Window(job, from, to) is not var (first, last))
            return new OrderMapView([], [], [], []);
        var results = new RunResults(job);
        var (curve, shaft) = (Whole(results, signal), Whole(results, speed));
        var map = gate.Run(MostComputing, wanted, _ => OrderMap.Of(curve, shaft, first, last, Math.Clamp(turns ?? 10, 1, 200)))
            ?? throw new RefusedException(
                "The shaft does not turn often enough in this stretch of time.",
                "Take a longer stretch, or fewer turns a line."
            );
        var orders = map.Orders.Count(o => o <= MostOrders);
        return new OrderMapView(map.Orders[..orders], map.Speeds, map.Times, [.. map.Amplitudes.Select(a => a[..orders])]);
    }

    /// <summary>Signals against another one, in the form of traces: its values in the place of times, in the order of time.</summary>
    static IResult Against(
        string id,
        string x,
        string[] signal,
        double? from,
        double? to,
        RunPool runs,
        ComputeGate gate,
        CancellationToken wanted
    )
    {
        Requests.AtMost(RunResults.MostSignals, signal, "signals");
        var job = Found(id, runs, wanted);
        if (Window(job, from, to) is not var (first, last))
            return TypedResults.Bytes(RunResults.Packed(signal, NoCurves), "application/octet-stream");
        var results = new RunResults(job);
        return TypedResults.Bytes(gate.Run(MostComputing, wanted, _ =>
            {
                var found = new Dictionary<string, ReducedCurve>();
                if (results.Curve(x) is { } across)
                    foreach (var name in signal.Distinct())
                        if (results.Curve(name) is { } up)
                            found[name] = PhaseCurve.Of(across, up, first, last, MostPoints);
                return RunResults.Packed(signal, found);
            }), "application/octet-stream");
    }
}
