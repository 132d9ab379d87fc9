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
public sealed record PidGains(PidForm Form, double K, double Ti, double Td, double N, double B, double C)
{
    /// <summary>A form whose gains are to be found, with the usual filter and weights.</summary>
    public static PidGains Shape(PidForm form) => new(form, 1, 1, 0, 10, 1, 0);

    /// <summary>
    /// Sample time of a controller that works at samples, s; 0 for a continuous one. All of a sampled loop is looked at on the plane of
    /// the bilinear transformation (<see cref="SampledPlane"/>), on which it is a continuous one: the integral part, a sum of errors times
    /// the period taken before the present one, is 1/w − T/2 there, and the derivative part, a backward difference behind a filter of
    /// Td/N, is Td w/(1 + (Td/N + T/2) w).
    /// </summary>
    public double Period { get; init; }

    /// <summary>Whether only gains with real zeros can be written, as in the series form.</summary>
    public bool HasRealZeros { get; init; }

    public bool HasIntegral => Form is PidForm.PI or PidForm.PID;

    public bool HasDerivative => Form is PidForm.PD or PidForm.PID && Td > 0;

    /// <summary>Feedback transfer function from the measured value to the output, sign left out.</summary>
    public Complex Feedback(Complex s) =>
        K * (1 + (HasIntegral ? (1 / s - Period / 2) / Ti : 0) + (HasDerivative ? Td * s / (1 + FilterTime * s) : 0));

    /// <summary>The integral part for a gain and an integral time of one, at a frequency in rad/s.</summary>
    public Complex Integral(double frequency) => new(-Period / 2, -1 / frequency);

    /// <summary>The shortest integral time with which the zeros are real, s; 0 where they need not be.</summary>
    /// <remarks>The zeros are those of Ti (Tf + Td) s² + (Ti + Tf) s + 1.</remarks>
    public double ShortestTi(double td) => HasRealZeros && td > 0 ? td / N + 2 * td + Math.Sqrt(4 * td * td / N + 4 * td * td) : 0;

    double FilterTime => Td / N + Period / 2;

    /// <summary>The open loop L = C·G as a linear system: plant behind the feedback path.</summary>
    public LinearSystem OpenLoop(LinearSystem plant) => Connect(plant, Entry.Open);

    /// <summary>The closed loop from set-point to measured value, with both set-point weights.</summary>
    public LinearSystem ClosedLoop(LinearSystem plant) => Connect(plant, Entry.SetPoint);

    /// <summary>The closed loop from a load, which is added to the controller's output, to the measured value.</summary>
    public LinearSystem LoadedLoop(LinearSystem plant) => Connect(plant, Entry.Load);

    /// <summary>The closed loop from set-point to the controller's output.</summary>
    public LinearSystem Effort(LinearSystem plant) => Connect(plant, Entry.SetPoint, asksForOutput: true);

    /// <summary>Gains of the parallel form: u = kp e + ki ∫e + kd ė, the last one filtered with kd/(kp N).</summary>
    public (double Kp, double Ki, double Kd) Parallel => (K, HasIntegral ? K / Ti : 0, HasDerivative ? K * Td : 0);

    /// <summary>Where the input of a connected loop enters.</summary>
    enum Entry
    {
        Open,
        SetPoint,
        Load,
    }

    /// <param name="asksForOutput">Whether the output is that of the controller; else that of the plant.</param>
    LinearSystem Connect(LinearSystem plant, Entry entry, bool asksForOutput = false)
    {
        var closed = entry != Entry.Open;
        // Controller: xc' = Ac xc + br r − by y, u = cc xc + kr r − ky y. Open: r is absent and the input e takes the place of −y.
        var tf = HasDerivative ? FilterTime : 1;
        var controller = (HasIntegral ? 1 : 0) + (HasDerivative ? 1 : 0);
        var (ac, br, by, cc) = (new double[controller], new double[controller], new double[controller], new double[controller]);
        var slot = 0;
        if (HasIntegral)
        {
            br[slot] = by[slot] = K / Ti;
            cc[slot++] = 1;
        }

        if (HasDerivative)
        {
            ac[slot] = -1 / tf;
            br[slot] = C / tf;
            by[slot] = 1 / tf;
            cc[slot] = -K * Td / tf;
        }

        var direct = HasIntegral ? -K * Period / 2 / Ti : 0;
        var ky = K + direct + (HasDerivative ? K * Td / tf : 0);
        var kr = K * B + direct + (HasDerivative ? C * K * Td / tf : 0);
        int n = plant.Order,
            m = plant.Delays.Length,
            total = n + controller;
        // u = Ux·(xp, xc) + ur·input + Uw·w, with y = (c x + d u + f w) fed back where closed.
        var loop = closed ? 1 / (1 + plant.D * ky) : 1;
        var ux = new double[total];
        for (var j = 0; j < n; j++)
            ux[j] = closed ? -loop * ky * plant.C[j] : 0;
        for (var j = 0; j < controller; j++)
            ux[n + j] = loop * cc[j];
        var ur = entry switch
        {
            Entry.Open => ky,
            Entry.SetPoint => loop * kr,
            _ => loop,
        };
        var uw = plant.F.Select(f => closed ? -loop * ky * f : 0).ToArray();
        var a = new double[total, total];
        var b = new double[total];
        var c = new double[total];
        var e = new double[total, m];
        var f2 = new double[m];
        for (var j = 0; j < total; j++)
            c[j] = (j < n ? plant.C[j] : 0) + plant.D * ux[j];
        var d = plant.D * ur;
        for (var j = 0; j < m; j++)
            f2[j] = plant.F[j] + plant.D * uw[j];
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < total; j++)
                a[i, j] = (j < n ? plant.A[i, j] : 0) + plant.B[i] * ux[j];
            b[i] = plant.B[i] * ur;
            for (var j = 0; j < m; j++)
                e[i, j] = plant.E[i, j] + plant.B[i] * uw[j];
        }

        for (var i = 0; i < controller; i++)
        {
            var row = n + i;
            a[row, row] = ac[i];
            b[row] = entry switch
            {
                Entry.Open => by[i],
                Entry.SetPoint => br[i],
                _ => 0,
            };
            if (!closed)
                continue;
            for (var j = 0; j < total; j++)
                a[row, j] -= by[i] * c[j];
            b[row] -= by[i] * d;
            for (var j = 0; j < m; j++)
                e[row, j] -= by[i] * f2[j];
        }

        double[,] g = new double[m, total],
            k = new double[m, m];
        var h = new double[m];
        for (var i = 0; i < m; i++)
        {
            for (var j = 0; j < total; j++)
                g[i, j] = (j < n ? plant.G[i, j] : 0) + plant.H[i] * ux[j];
            h[i] = plant.H[i] * ur;
            for (var j = 0; j < m; j++)
                k[i, j] = plant.K[i, j] + plant.H[i] * uw[j];
        }

        return new LinearSystem
        {
            A = a,
            B = b,
            C = asksForOutput ? ux : c,
            D = asksForOutput ? ur : d,
            E = e,
            F = asksForOutput ? uw : f2,
            G = g,
            H = h,
            K = k,
            Delays = plant.Delays,
            States =
            [
                .. plant.States,
                .. Enumerable.Range(0, controller).Select(i => i == 0 && HasIntegral ? "controller I" : "controller filter"),
            ],
        };
    }
}
