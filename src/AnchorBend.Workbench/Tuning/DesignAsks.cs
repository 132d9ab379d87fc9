using AnchorBend.Design;

namespace AnchorBend.Workbench.Tuning;

/// <summary>Answers what is asked of one loop.</summary>
/// <param name="at">The same loop at a saved operating point.</param>
sealed class DesignAsks(TunedLoop loop, Func<string, TunedLoop> at, CancellationToken wanted)
{
    const double MostWeight = 10;

    readonly LoopDesign design = loop.Design;

    /// <exception cref="DesignException">It is no form, or none that the controller, or another part in its place, can have.</exception>
    public static PidForm Form(string? text, ControllerLaw law)
    {
        string[] names = [.. law.Names, .. ControllerSubstitute.Names(law)];
        if (!Enum.TryParse<PidForm>(text, out var form) || !Enum.IsDefined(form))
            throw new DesignException("form", $"There is no form '{text}'.", $"This controller can be {string.Join(", ", names)}.");
        return names.Contains(form.ToString())
            ? form
            : throw new DesignException(
                "form",
                $"This controller ({law.Name}) cannot be {form}.",
                $"It can be {string.Join(", ", law.Names)}."
            );
    }

    /// <summary>What a form is looked for with.</summary>
    public static LoopController Shape(string? form, double? ratio, LoopDesign design) =>
        RejectionGains.OrderOf(form) is { } order
            ? design.RejectionShape(order, ratio)
            : design.Shape with
            {
                Form = Form(form, design.Law),
            };

    LoopController Shape(string? form, double? ratio) => Shape(form, ratio, design);

    PidGains PidShape(string? form) => design.Shape with { Form = Form(form, design.Law) };

    public DesignsAnswer Answer(DesignsRequest request)
    {
        var found = request.Asks.Select(Found).ToList();
        var bandwidths = found
            .Select(f => f.Figures?.Margins.GainCrossings.Select(c => c.Frequency).DefaultIfEmpty(double.NaN).Max() ?? double.NaN)
            .Where(double.IsFinite)
            .DefaultIfEmpty(PidTuning.SuggestBandwidth(design.Plant, design.Present.Period))
            .ToList();
        var (from, to, end) = (
            request.From ?? bandwidths.Min() / 30,
            request.To ?? bandwidths.Max() * 30,
            request.End ?? 12 / bandwidths.Min()
        );
        if (!(from > 0 && to > from && to <= from * 1e12) || !(end > 0 && end < 1e15))
            throw new DesignException("range", "Frequencies and times of the responses must rise from above zero.", "Leave them out.");
        var views = new DesignViews(loop, from, to, end, request.Wishes?.Read());
        return new DesignsAnswer(
            views.Frequencies,
            views.Times,
            [
                .. found.Select(
                    (f, i) =>
                        f.Figures is { } figures
                            ? views.View(request.Asks[i].Name, figures, f.Remark)
                            : DesignViews.None(request.Asks[i].Name, f.Remark ?? "")
                ),
            ]
        );
    }

    /// <summary>Figures of the gains asked for; without any, the remark says why.</summary>
    (LoopFigures? Figures, string? Remark) Found(DesignAsk ask)
    {
        wanted.ThrowIfCancellationRequested();
        try
        {
            var (gains, remark) = GainsOf(ask);
            // What cannot be written is no design.
            loop.Controller.Texts(gains, design.Point);
            return (LoopFigures.Of(gains, design.Plant, wanted), remark);
        }
        catch (DesignException e)
        {
            return (null, $"{e.Message} {e.Advice}");
        }
    }

    (LoopController Gains, string? Remark) GainsOf(DesignAsk ask)
    {
        switch (ask)
        {
            case { Gains: { } g }:
                return (Typed(g, design.Present, design.Law), null);
            case { Place: { } p }:
                return Placed(p);
            case { Margin: { } m }:
                PidTuning.CheckWishes(m.Bandwidth, m.PhaseMargin);
                var solved = PidTuning.Solve(design.Plant, PidShape(m.Form), m.Bandwidth, m.PhaseMargin, wanted);
                return (LoopDesign.Written(solved.Gains), solved.Remark);
            case { Best: { } b }:
                var (best, remark) = b.Points is { Count: > 0 } points ? BestOfAll(b, points) : (Best(b, [design.Plant])[0].Gains, null);
                return (b.Weighted == true ? Weighted(best) : best, remark);
            case { Drawn: { } d }:
                return Drawn(d);
            default:
                return (design.Present, null);
        }
    }

    (LoopController Gains, string? Remark) Drawn(DrawnAsk ask)
    {
        var found = DrawnLoop.Nearest(
            loop.Response(wanted),
            Shape(ask.Form, ask.Ratio),
            [.. ask.Points.Select(p => new DrawnPoint(p.Frequency, Math.Pow(10, p.Gain / 20)))],
            wanted
        );
        return (found.Gains, FormattableString.Invariant($"The loop's gain is off what is drawn by {found.Off:G2} dB in the mean."));
    }

    /// <exception cref="DesignException">The controller does not weigh its set-point.</exception>
    LoopController Weighted(LoopController gains)
    {
        if (gains is not PidGains { HasIntegral: true } pid || !design.Law.HasWeight && design.Law.CanHave(gains))
            throw new DesignException(
                "weight",
                "This controller has no weight of its set-point that could be found.",
                "Take one of the ideal, parallel or series form with an integral part, or ask without it."
            );
        var figures = LoopFigures.Of(pid, design.Plant, wanted);
        var pace = 1 / Math.Max(figures.Margins.GainCrossings.Select(c => c.Frequency).DefaultIfEmpty(1).Max(), 1e-12);
        return SetPointWeight.Best(pid, design.Plant, pace, wanted);
    }

    /// <summary>The best gains under limits for all of several plants, with what they do in each.</summary>
    /// <exception cref="DesignException">There is no such goal or form, or nothing keeps the limits.</exception>
    public IReadOnlyList<LoopFigures> Best(BestAsk ask, IReadOnlyList<LinearSystem> plants)
    {
        var goal = ask.Goal switch
        {
            "integralGain" => LoopGoal.IntegralGain,
            "load" => LoopGoal.Load,
            "setPoint" => LoopGoal.SetPoint,
            _ => throw new DesignException("goal", $"There is no goal '{ask.Goal}'.", "Goals are integralGain, load and setPoint."),
        };
        if (Shape(ask.Form, ask.Ratio) is RejectionGains rejection)
            return [BestRejection(ask, rejection, goal, plants)];
        var shape = PidShape(ask.Form);
        IReadOnlyList<LoopFigures>? Under(double peak)
        {
            var limits = new LoopLimits(peak, null, ask.NoiseGain);
            return shape.HasIntegral ? RobustPid.Best(plants, shape, limits, goal, wanted) : RobustGain.Best(plants, shape, limits, wanted);
        }

        var best = ask.Damping is { } damping ? LoopDamping.Best(damping, ask.Sensitivity, plants, Under) : Under(ask.Sensitivity);
        return best
            ?? throw new DesignException(
                "limits",
                plants.Count > 1 ? $"No {ask.Form} keeps these limits at all of these points." : $"No {ask.Form} keeps these limits.",
                "Widen them, or take another form."
            );
    }

    /// <summary>The bandwidth and observer ratio with the least load error, from the map.</summary>
    LoopFigures BestRejection(BestAsk ask, RejectionGains shape, LoopGoal goal, IReadOnlyList<LinearSystem> plants)
    {
        if (goal != LoopGoal.Load || plants.Count > 1 || ask.Damping is not null)
            throw new DesignException(
                "goal",
                "A disturbance-rejecting controller is found by its load error, at one operating point.",
                "Ask for the least load error, without a wish for damping."
            );
        var response = loop.Response(wanted);
        var map = DesignMap.Of(response, shape, [], wanted);
        var wishes = new MapWishes(ask.Sensitivity, ask.NoiseGain, null, null, null);
        return MapAdvice.Of(response, shape, map, wishes, wanted).Best is { } best
            ? LoopFigures.Of(LoopDesign.Written(best.Gains), plants[0], wanted)
            : throw new DesignException("limits", $"No {shape.Told} keeps these limits.", "Widen them, or take another form.");
    }

    (LoopController Gains, string? Remark) BestOfAll(BestAsk ask, IReadOnlyList<string> points)
    {
        var loops = points.Distinct().Select(at).ToList();
        var best = Best(ask, [.. loops.Select(l => l.Design.Plant)]);
        var worst = Enumerable.Range(0, loops.Count).MaxBy(i => best[i].Sensitivity.Value);
        return (
            best[0].Gains,
            FormattableString.Invariant(
                $"The peak of the sensitivity is highest at {loops[worst].Design.Point.Name}, with {best[worst].Sensitivity.Value:G3}."
            )
        );
    }

    /// <exception cref="DesignException">A gain is missing or out of range.</exception>
    public static LoopController Typed(GainsView g, LoopController present, ControllerLaw law)
    {
        bool Usable(double? v) => v is { } x && double.IsFinite(x);
        if (RejectionGains.OrderOf(g.Form) is { } order)
            return g.Rejection is { } r && Usable(r.InputGain) && r.InputGain != 0 && Usable(r.Bandwidth) && r.Bandwidth > 0 && r.Ratio >= 1
                ? new RejectionGains(order, r.InputGain, r.Bandwidth, r.Ratio) { Period = present.Period }
                : throw new DesignException(
                    "gains",
                    "A gain is missing or out of range.",
                    "The input gain must not be zero, the bandwidth above zero, and the observer at least as fast."
                );
        var shape = LoopDesign.ShapeOf(present);
        var gains = shape with { Form = Form(g.Form, law), K = g.K ?? double.NaN };
        if (
            !double.IsFinite(gains.K)
            || gains.HasIntegral && !(Usable(g.Ti) && g.Ti > 0)
            || gains.Form is PidForm.PD or PidForm.PID && !(Usable(g.Td) && g.Td >= 0)
        )
            throw new DesignException("gains", "A gain is missing or out of range.", "Times must be above zero.");
        if (g.B is { } b && !(b >= 0 && b <= MostWeight))
            throw new DesignException("gains", "The weight of the set-point is out of range.", $"It lies between 0 and {MostWeight}.");
        return gains with { Ti = g.Ti ?? shape.Ti, Td = g.Td ?? shape.Td, B = law.HasWeight ? g.B ?? shape.B : shape.B };
    }

    (LoopController Gains, string? Remark) Placed(PlaceAsk ask)
    {
        var shape = Shape(ask.Form, ask.Ratio);
        var form = shape.Told;
        if (!(ask.Bandwidth is > 1e-15 and < 1e15) || !(ask.Sensitivity is > 1 and < 1e6))
            throw new DesignException("place", "A place has a bandwidth above 0 and a peak above 1.", "Point at the map.");
        var response = loop.Response(wanted);
        var place = DesignMap.At(response, shape, ask.Bandwidth, ask.Sensitivity, wanted)
            ?? DesignMap.At(loop.Response(-response.Sign, wanted), shape, ask.Bandwidth, ask.Sensitivity, wanted)
            ?? throw new DesignException(
                "unreached",
                FormattableString.Invariant($"No {form} makes the loop stable with a bandwidth of {ask.Bandwidth:G3} rad/s."),
                "Go to another bandwidth."
            );
        var off = Math.Abs(place.Sensitivity / ask.Sensitivity - 1) > 0.01;
        return (
            LoopDesign.Written(place.Gains),
            off
                ? FormattableString.Invariant(
                    $"No {form} has a peak of {ask.Sensitivity:F2} at this bandwidth; {place.Sensitivity:F2} is the nearest."
                )
                : null
        );
    }
}
