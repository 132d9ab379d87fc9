using System.Numerics;
using AnchorBend.Design;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Tuning;

/// <summary>Linear systems of models as matrices and transfer functions, from signals to signals, and made discrete.</summary>
public sealed class SystemAnalysis(ComputeGate compute)
{
    static readonly TimeSpan Most = TimeSpan.FromSeconds(30);

    const int Points = 160;

    static readonly (string Name, Hold Hold)[] Holds = [("zoh", Hold.Zoh), ("tustin", Hold.Tustin), ("matched", Hold.Matched)];

    /// <exception cref="DesignException">A signal is unknown, samples lie between, or there is no such system.</exception>
    public SystemAnswer System(ModelSession session, SystemRequest request, CancellationToken wanted) =>
        compute.Run(Most, wanted, token => Of(session, request, token));

    static SystemAnswer Of(ModelSession session, SystemRequest request, CancellationToken wanted)
    {
        var (prepared, document) = SavedPoints.Model(session, request.Point, wanted);
        var point = TunedLoops.Point(prepared, document, request.At, wanted);
        List<string> Names(IReadOnlyList<string>? signals) => [.. (signals ?? []).Select(s => ModelAnalysis.Name(prepared, s))];
        var matrix = LinearMatrix.Between(prepared, point, Names(request.From), Names(request.To), Names(request.Open), wanted);
        var single = matrix.From.Count == 1 && matrix.To.Count == 1 ? matrix.Entries[0][0] : null;
        var values = FrequencyGrid
            .For(matrix.Entries[0][0], Points)
            .Select(w => (Frequency: w, Values: LinearMatrix.SingularValues(matrix.At(w))))
            // At an undamped pole there are none.
            .Where(v => v.Values.Length > 0)
            .ToList();
        var zeros = single is null ? matrix.TransmissionZeros() : PolesAndZeros.Zeros(single);
        var count = Math.Min(matrix.From.Count, matrix.To.Count);
        return new SystemAnswer(
            point.Name,
            matrix.From,
            matrix.To,
            matrix.States,
            new MatricesView(Rows(matrix.A), Rows(matrix.B), Rows(matrix.C), Rows(matrix.D)),
            matrix.Delays,
            [.. PolesAndZeros.Poles(matrix.Entries[0][0]).Select(ModelAnalysis.Root)],
            zeros?.Select(ModelAnalysis.Root).ToList(),
            single is null ? null : Transfer(single),
            [.. values.Select(v => v.Frequency)],
            [.. Enumerable.Range(0, count).Select(k => values.Select(v => Decibels(v.Values[k])).ToList())],
            single is not null && request.Period is { } sampled ? Below(sampled) : [],
            single is not null && request.Period is { } period ? Continuous(single, period) : null,
            single is not null && request.Period is { } of
                ? [.. Holds.Select(h => Conversion(single, of, h.Name, h.Hold, h.Hold == Hold.Tustin ? request.ExactAt : null))]
                : []
        );
    }

    static double Decibels(double value) => Math.Clamp(ModelAnalysis.Finite(20 * Math.Log10(value)), -400, 400);

    static TransferView? Transfer(LinearSystem system) =>
        TransferFunction.Of(system) is { } t ? new TransferView(t.Numerator, t.Denominator) : null;

    /// <summary>How much of half the sample rate is shown: at it, some conversions pass nothing.</summary>
    const double Shown = 0.97;

    /// <summary>From a thousandth of half the sample rate nearly up to it, rad/s.</summary>
    static double[] Below(double period)
    {
        if (!(period > 1e-12) || !(period < 1e12))
            throw new DesignException("period", "The sampling period must be positive.", "Give it in seconds.");
        return [.. Enumerable.Range(0, Points).Select(i => Shown * Math.PI / period * Math.Pow(1000, i / (Points - 1.0) - 1))];
    }

    static ConversionView Continuous(LinearSystem system, double period)
    {
        var response = Below(period).Select(w => system.At(new Complex(0, w))).ToArray();
        return View("continuous", system, response);
    }

    static ConversionView Conversion(LinearSystem system, double period, string name, Hold hold, double? exactAt)
    {
        try
        {
            var made = Discretisation.Of(system, period, hold, exactAt);
            return View(name, made, [.. Below(period).Select(w => made.At(Complex.Exp(new Complex(0, w * period))))]);
        }
        catch (DesignException e)
        {
            return new ConversionView(name, $"{e.Message} {e.Advice}", null, [], [], [], []);
        }
    }

    static ConversionView View(string name, LinearSystem system, Complex[] response) =>
        new(
            name,
            null,
            Transfer(system),
            [.. PolesAndZeros.Poles(system).Select(p => new PoleView(p.Real, p.Imaginary))],
            [.. PolesAndZeros.Zeros(system).Select(p => new PoleView(p.Real, p.Imaginary))],
            [.. response.Select(r => Decibels(r.Magnitude))],
            DesignViews.Unwrapped(response)
        );

    static List<IReadOnlyList<double>> Rows(double[,] m) =>
        [.. Enumerable.Range(0, m.GetLength(0)).Select(i => (double[])[.. Enumerable.Range(0, m.GetLength(1)).Select(j => m[i, j])])];
}
