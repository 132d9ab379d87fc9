using AnchorBend.Numerics.Spectra;

namespace AnchorBend.Verification;

/// <summary>
/// Amplitudes over orders of a shaft's speed: the signal is sampled at equal steps of the shaft's angle, which is the integral of its
/// speed (computed order tracking: K. R. Fyfe, E. D. S. Munck, "Analysis of computed order tracking", Mechanical Systems and Signal
/// Processing 11, 1997). A stretch of turns gives one line of the map, at its mean speed.
/// </summary>
/// <param name="Orders">Multiples of the shaft's speed.</param>
/// <param name="Speeds">Of each line, rad/s.</param>
/// <param name="Times">The middle of each line, s.</param>
/// <param name="Amplitudes">A row a line.</param>
public sealed record OrderMap(double[] Orders, double[] Speeds, double[] Times, double[][] Amplitudes)
{
    const int SamplesOfTurn = 64;

    /// <param name="speed">Angular speed, rad/s.</param>
    /// <param name="turns">Turns in a line: orders are told apart to 1/turns.</param>
    /// <returns>Null where the shaft does not turn that often.</returns>
    public static OrderMap? Of(Curve signal, Curve speed, double from, double to, int turns = 10, int mostLines = 200)
    {
        var window = speed.Window(from, to);
        var times = new List<double>();
        var angles = new List<double>();
        var angle = 0.0;
        for (var i = 0; i < window.Values.Length; i++)
        {
            if (i > 0)
                angle += (window.Times[i] - window.Times[i - 1]) * (Math.Abs(window.Values[i - 1]) + Math.Abs(window.Values[i])) / 2;
            if (angles.Count > 0 && angle <= angles[^1])
                continue;
            times.Add(window.Times[i]);
            angles.Add(angle);
        }

        var whole = (int)(angle / (2 * Math.PI) / turns);
        if (whole < 1)
            return null;
        var lines = Math.Min(whole, mostLines);
        var count = turns * SamplesOfTurn;
        var amplitudes = new double[lines][];
        double[] orders = [],
            speeds = new double[lines],
            middles = new double[lines];
        var at = 0;
        for (var line = 0; line < lines; line++)
        {
            var first = 2 * Math.PI * turns * (lines == whole ? line : (double)line * (whole - 1) / Math.Max(1, lines - 1));
            var samples = new double[count];
            double begin = 0,
                end = 0;
            for (var i = 0; i < count; i++)
            {
                var wanted = first + 2 * Math.PI * i / SamplesOfTurn;
                while (at + 1 < angles.Count - 1 && angles[at + 1] < wanted)
                    at++;
                while (at > 0 && angles[at] > wanted)
                    at--;
                var part = angles.Count > 1 ? (wanted - angles[at]) / (angles[at + 1] - angles[at]) : 0;
                end = times[at] + part * (times[Math.Min(at + 1, times.Count - 1)] - times[at]);
                begin = i == 0 ? end : begin;
                samples[i] = signal.At(Math.Clamp(end, signal.Times[0], signal.Times[^1])) ?? 0;
            }

            var spectrum = Spectrum.Amplitude(samples, SamplesOfTurn, "hann", 1);
            (orders, amplitudes[line]) = (spectrum.Frequencies, spectrum.Values);
            speeds[line] = 2 * Math.PI * turns / Math.Max(end - begin, 1e-300) * (count - 1) / count;
            middles[line] = (begin + end) / 2;
        }

        return new OrderMap(orders, speeds, middles, amplitudes);
    }
}
