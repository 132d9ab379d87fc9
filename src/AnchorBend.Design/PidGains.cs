using System.Numerics;

namespace AnchorBend.Design;

public enum PidForm
{
    P,
    PI,
    PD,
    PID,
}

/// <summary>Gains of a PID controller in ideal form; times in seconds.</summary>
/// <remarks>
/// At samples (<see cref="LoopController.Period"/>) the integral part, a sum of errors times the period taken before the present one, is
/// 1/w − T/2 on their plane, and the derivative part, a backward difference behind a filter of Td/N, is Td w/(1 + (Td/N + T/2) w).
/// </remarks>
public sealed record PidGains(PidForm Form, double K, double Ti, double Td, double N, double B, double C) : LoopController
{
    /// <summary>A form whose gains are to be found, with the usual filter and weights.</summary>
    public static PidGains Shape(PidForm form) => new(form, 1, 1, 0, 10, 1, 0);

    /// <summary>Whether only gains with real zeros can be written, as in the series form.</summary>
    public bool HasRealZeros { get; init; }

    public override string Name => Form.ToString();

    public override bool HasIntegral => Form is PidForm.PI or PidForm.PID;

    public bool HasDerivative => Form is PidForm.PD or PidForm.PID && Td > 0;

    public override Complex Feedback(Complex s) =>
        K * (1 + (HasIntegral ? (1 / s - Period / 2) / Ti : 0) + (HasDerivative ? Td * s / (1 + FilterTime * s) : 0));

    /// <summary>The integral part for a gain and an integral time of one, at a frequency in rad/s.</summary>
    public Complex Integral(double frequency) => new(-Period / 2, -1 / frequency);

    /// <summary>The shortest integral time with which the zeros are real, s; 0 where they need not be.</summary>
    /// <remarks>The zeros are those of Ti (Tf + Td) s² + (Ti + Tf) s + 1.</remarks>
    public double ShortestTi(double td) => HasRealZeros && td > 0 ? td / N + 2 * td + Math.Sqrt(4 * td * td / N + 4 * td * td) : 0;

    double FilterTime => Td / N + Period / 2;

    /// <summary>Gains of the parallel form: u = kp e + ki ∫e + kd ė, the last one filtered with kd/(kp N).</summary>
    public (double Kp, double Ki, double Kd) Parallel => (K, HasIntegral ? K / Ti : 0, HasDerivative ? K * Td : 0);

    public override double IntegralGain => Parallel.Ki;

    public override LinearController Realised()
    {
        var tf = HasDerivative ? FilterTime : 1;
        var states = (HasIntegral ? 1 : 0) + (HasDerivative ? 1 : 0);
        var a = new double[states, states];
        var (setPoint, measured, c) = (new double[states], new double[states], new double[states]);
        var slot = 0;
        if (HasIntegral)
        {
            setPoint[slot] = measured[slot] = K / Ti;
            c[slot++] = 1;
        }

        if (HasDerivative)
        {
            a[slot, slot] = -1 / tf;
            setPoint[slot] = C / tf;
            measured[slot] = 1 / tf;
            c[slot] = -K * Td / tf;
        }

        var direct = HasIntegral ? -K * Period / 2 / Ti : 0;
        return new LinearController(
            a,
            setPoint,
            measured,
            c,
            K * B + direct + (HasDerivative ? C * K * Td / tf : 0),
            K + direct + (HasDerivative ? K * Td / tf : 0),
            [.. Enumerable.Range(0, states).Select(i => i == 0 && HasIntegral ? "controller I" : "controller filter")]
        );
    }
}
