namespace AnchorBend.Design;

/// <summary>How a kind of controller writes its gains: between its own parameters and those of the ideal form.</summary>
/// <param name="Name">As it is told.</param>
/// <param name="Marks">Parameters by which the kind is known.</param>
/// <param name="Without">Parameters that it has not.</param>
/// <param name="Forms">Forms of PID that can be written.</param>
/// <param name="Read">From its parameters.</param>
/// <param name="Write">The parameters that gains need.</param>
public sealed record ControllerLaw(
    string Name,
    IReadOnlyList<string> Marks,
    IReadOnlyList<string> Without,
    IReadOnlyList<PidForm> Forms,
    Func<Func<string, double>, LoopController> Read,
    Func<LoopController, IReadOnlyList<(string Name, double Value)>> Write
)
{
    /// <summary>Names of all that it can be (<see cref="LoopController.Name"/>).</summary>
    public IReadOnlyList<string> Names =>
        IsRejection ? [RejectionGains.NameOf(1), RejectionGains.NameOf(2)] : [.. Forms.Select(f => f.ToString())];

    /// <summary>Whether the part can have gains; else another part would have to take its place.</summary>
    public bool CanHave(LoopController gains) => gains is RejectionGains == IsRejection;

    /// <summary>Whether it estimates a disturbance and rejects it, and is no PID.</summary>
    public bool IsRejection => Marks.Contains("b0");

    /// <summary>Whether the form is a parameter of its own, beside the gains.</summary>
    public bool HasForm => Marks.Contains("form");

    /// <summary>Whether it works at samples, T apart.</summary>
    public bool IsSampled => Marks.Contains("T");

    /// <summary>Whether its gains are tables over a quantity (<see cref="GainSchedule"/>).</summary>
    public bool IsScheduled => Marks.Contains("at[1]");

    /// <summary>Whether its limits hold only where it says so, by a parameter of its own.</summary>
    public bool HasLimits => !IsRejection && !IsSampled;

    /// <summary>How the parts that can take another one's place write gains.</summary>
    public static ControllerLaw Usual(LoopController gains) =>
        All.First(l => l.IsRejection == gains is RejectionGains && l.IsSampled == gains.Period > 0);

    /// <summary>Whether it weighs the set-point in its proportional part.</summary>
    public bool HasWeight => Marks.Contains("b");

    static readonly IReadOnlyList<ControllerLaw> All =
    [
        new(
            "ideal form",
            ["form", "k", "Ti", "Td", "N", "b", "c"],
            [],
            [PidForm.P, PidForm.PI, PidForm.PD, PidForm.PID],
            p => new PidGains((PidForm)((int)p("form") - 1), p("k"), p("Ti"), p("Td"), p("N"), p("b"), p("c")),
            Of(Ideal)
        ),
        new(
            "parallel form",
            ["kp", "ki", "kd", "Tf", "b", "c"],
            [],
            [PidForm.P, PidForm.PI, PidForm.PD, PidForm.PID],
            OfParallel,
            Of(Parallel)
        ),
        new("series form", ["k", "Ti", "Td", "N", "b", "c"], ["form", "T"], [PidForm.PI, PidForm.PID], OfSeries, Of(Series)),
        new(
            "scheduled",
            ["at[1]", "k[1]", "Ti[1]", "Td[1]", "N", "b"],
            [],
            [PidForm.PI, PidForm.PID],
            p => new PidGains(p("Td") > 0 ? PidForm.PID : PidForm.PI, p("k"), p("Ti"), p("Td"), p("N"), p("b"), 0),
            Of(g => [("k", g.K), ("Ti", g.Ti), ("Td", g.HasDerivative ? g.Td : 0)])
        ),
        new(
            "sampled",
            ["k", "Ti", "Td", "N", "T"],
            [],
            [PidForm.PI, PidForm.PID],
            p => new PidGains(p("Td") > 0 ? PidForm.PID : PidForm.PI, p("k"), p("Ti"), p("Td"), p("N"), 1, 0) { Period = p("T") },
            Of(g => [("k", g.K), ("Ti", g.Ti), ("Td", g.HasDerivative ? g.Td : 0)])
        ),
        new(
            "sampled",
            ["k", "Ti", "T"],
            ["Td"],
            [PidForm.PI],
            p => new PidGains(PidForm.PI, p("k"), p("Ti"), 0, 10, 1, 0) { Period = p("T") },
            Of(g => [("k", g.K), ("Ti", g.Ti)])
        ),
        new("disturbance rejection", ["order", "b0", "wc", "ratio"], ["T"], [], p => OfRejection(p, 0), Rejection),
        new("sampled disturbance rejection", ["order", "b0", "wc", "ratio", "T"], [], [], p => OfRejection(p, p("T")), Rejection),
    ];

    static Func<LoopController, IReadOnlyList<(string Name, double Value)>> Of(
        Func<PidGains, IReadOnlyList<(string Name, double Value)>> write
    ) =>
        gains =>
            gains is PidGains pid
                ? write(pid)
                : throw new DesignException(
                    "form",
                    "This controller is a PID and cannot have these gains.",
                    "Put another part in its place."
                );

    static RejectionGains OfRejection(Func<string, double> p, double period)
    {
        var (order, gain, bandwidth, ratio) = ((int)p("order"), p("b0"), p("wc"), p("ratio"));
        return gain != 0 && bandwidth > 0 && ratio > 0
            ? new RejectionGains(order, gain, bandwidth, ratio) { Period = period }
            : throw new DesignException("gains", "The controller's input gain or a bandwidth of it is zero.", "Give b0 and wc values.");
    }

    static List<(string, double)> Rejection(LoopController gains) =>
        gains is RejectionGains g
            ? [("b0", g.InputGain), ("wc", g.Bandwidth), ("ratio", g.Ratio)]
            : throw new DesignException("form", "This controller rejects disturbances and is no PID.", "Put another part in its place.");

    /// <summary>The law that has given parameters; null where none is known.</summary>
    public static ControllerLaw? Of(Func<string, bool> has) => All.FirstOrDefault(l => l.Marks.All(has) && !l.Without.Any(has));

    static List<(string, double)> Ideal(PidGains g)
    {
        List<(string, double)> written = [("k", g.K)];
        if (g.HasIntegral)
            written.Add(("Ti", g.Ti));
        if (g.Form is PidForm.PD or PidForm.PID)
            written.Add(("Td", g.Td));
        return written;
    }

    static PidGains OfParallel(Func<string, double> p)
    {
        var (kp, ki, kd) = (p("kp"), p("ki"), p("kd"));
        var form = (ki != 0, kd != 0) switch
        {
            (true, true) => PidForm.PID,
            (true, false) => PidForm.PI,
            (false, true) => PidForm.PD,
            _ => PidForm.P,
        };
        if (kp == 0 && form != PidForm.P)
            throw new DesignException(
                "no-gain",
                "The controller has no proportional gain, which all of its times are measured by.",
                "Give kp a value that is not zero, however small."
            );
        var td = kd / kp;
        return new PidGains(form, kp, ki != 0 ? kp / ki : 1, kd != 0 ? td : 0, kd != 0 ? td / p("Tf") : 10, p("b"), p("c"));
    }

    static List<(string, double)> Parallel(PidGains g)
    {
        var (kp, ki, kd) = g.Parallel;
        List<(string, double)> written = [("kp", kp), ("ki", ki), ("kd", kd)];
        if (g.HasDerivative)
            written.Add(("Tf", g.Td / g.N));
        return written;
    }

    /// <remarks>K (1 + 1/(Ti s) + Td s/(Tf s + 1)) = k (1 + 1/(ti s)) (td s + 1)/(Tf s + 1): K/Ti = k/ti, Ti + Tf = ti + td and
    /// Ti (Td + Tf) = ti td.</remarks>
    static PidGains OfSeries(Func<string, double> p)
    {
        var (k, ti, td, n, b, c) = (p("k"), p("Ti"), p("Td"), p("N"), p("b"), p("c"));
        if (td == 0)
            return new PidGains(PidForm.PI, k, ti, 0, Math.Max(1, n), b, c) { HasRealZeros = true };
        var tf = td / n;
        var whole = ti + td - tf;
        var lead = ti * td / whole - tf;
        return lead > 0
            ? new PidGains(PidForm.PID, k * whole / ti, whole, lead, lead / tf, b, c) { HasRealZeros = true }
            : throw new DesignException(
                "series",
                "The filter of this series form takes more than its lead gives, so it is no PID.",
                "Make N larger, or Td zero."
            );
    }

    static List<(string, double)> Series(PidGains g)
    {
        if (!g.HasDerivative)
            return [("k", g.K), ("Ti", g.Ti), ("Td", 0)];
        var tf = g.Td / g.N;
        var (sum, product) = (g.Ti + tf, g.Ti * (g.Td + tf));
        // Gains on the border of what is possible are rounded.
        var root = Math.Sqrt(Math.Max(0, sum * sum - 4 * product));
        if (sum * sum < 4 * product * (1 - 1e-4))
            throw new DesignException(
                "series",
                "The zeros of these gains are complex, and those of a series form are real.",
                "Take a longer integral time or a shorter derivative time, or a part of the parallel form."
            );
        var (ti, td) = ((sum + root) / 2, (sum - root) / 2);
        return [("k", g.K * ti / g.Ti), ("Ti", ti), ("Td", td), ("N", td / tf)];
    }
}
