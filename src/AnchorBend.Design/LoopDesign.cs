using System.Globalization;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;

namespace AnchorBend.Design;

/// <summary>The loop of one PID part, opened at its output: what it controls, and its present gains.</summary>
/// <param name="Plant">For a controller that works at samples on the plane of <see cref="SampledPlane"/>.</param>
public sealed record LoopDesign(string Part, ControllerLaw Law, LinearSystem Plant, LoopController Present, OperatingPoint Point)
{
    /// <summary>1, or −1 where the controller's gain is negative, as it is where more output makes less of what is measured.</summary>
    public int Sign =>
        Present switch
        {
            PidGains pid => pid.K < 0 ? -1 : 1,
            RejectionGains r => r.InputGain < 0 ? -1 : 1,
            _ => 1,
        };

    /// <summary>What a disturbance-rejecting controller is looked for with.</summary>
    /// <param name="ratio">Bandwidth of its observer over its own; null for the present one, or a usual one.</param>
    public RejectionGains RejectionShape(int order, double? ratio)
    {
        if (ratio is { } given && !(given >= 1 && given <= RejectionGains.MostRatio))
            throw new DesignException(
                "gains",
                "The observer must be at least as fast as the controller.",
                FormattableString.Invariant($"Give a ratio between 1 and {RejectionGains.MostRatio}.")
            );
        return new RejectionGains(order, Sign, 1, ratio ?? (Present as RejectionGains)?.Ratio ?? RejectionGains.UsualRatio)
        {
            Period = Present.Period,
        };
    }

    /// <summary>The gain of the plant as an integrator, or a double one, where the loop works.</summary>
    public double InputGain(int order, CancellationToken cancellation = default) =>
        Rounded(RejectionGains.InputGainOf(Plant, order, WorkingBandwidth(cancellation), Sign, Present.Period));

    /// <summary>Where the loop works, rad/s: its bandwidth, or what suits its plant where the present gains make it unstable.</summary>
    public double WorkingBandwidth(CancellationToken cancellation = default) =>
        PidTuning.Judge("present", Present, Plant, false, null, cancellation) is { IsStable: true, Bandwidth: { } has }
            ? has
            : PidTuning.SuggestBandwidth(Plant, Present.Period);

    /// <summary>What forms of PID are looked for with: filter, weights and samples of the present one, or usual ones.</summary>
    public PidGains Shape => ShapeOf(Present);

    public static PidGains ShapeOf(LoopController present) =>
        present is PidGains pid ? pid with { N = Math.Max(1, pid.N) } : PidGains.Shape(PidForm.PI) with { Period = present.Period };

    /// <summary>Takes the loop of a PID part out of a model.</summary>
    /// <param name="part">Path of the part.</param>
    /// <exception cref="DesignException">It is no controller, or nothing comes back to it.</exception>
    public static LoopDesign Of(PreparedModel prepared, ParameterSet parameters, string part, OperatingPoint point)
    {
        var (law, present) = Controller(prepared, parameters, part, point);
        var plant =
            present.Period > 0
                ? Sampled(prepared, point, part, present.Period)
                : Linearizer.Between(prepared, point, $"{part}.u", $"{part}.y", $"{part}.u").Reduced();
        if (plant.Order == 0 && plant.Delays.Length == 0 && plant.D == 0)
        {
            var sampled = prepared.Model.Clocks.Select(c => c.Owner).Distinct().ToList();
            throw new DesignException(
                "no-plant",
                $"There is no plant in the loop of '{part}': its output does not come back to its measured value.",
                sampled.Count > 0
                    ? $"A sampled part ({string.Join(", ", sampled)}) may lie in between; it is held in the linear model."
                    : "Wire the output to the plant and the plant's output to the input y. A limit that is active here also opens the loop."
            );
        }

        return new LoopDesign(part, law, plant, present, point);
    }

    /// <summary>How a controller of a model writes its gains, and which it has now.</summary>
    /// <param name="point">Where the gains of a scheduled one are read; null for its first row.</param>
    /// <exception cref="DesignException">It is no controller that can be tuned.</exception>
    public static (ControllerLaw Law, LoopController Present) Controller(
        PreparedModel prepared,
        ParameterSet parameters,
        string part,
        OperatingPoint? point = null
    )
    {
        FlatVariable? Parameter(string name) => prepared.Model.Find($"{part}.{name}") is { Role: VariableRole.Parameter } v ? v : null;
        bool Signal(string name) => prepared.Model.Find($"{part}.{name}") is { Role: not VariableRole.Parameter };
        var law = Signal("r") && Signal("y") && Signal("u") ? ControllerLaw.Of(name => Parameter(name) is not null) : null;
        var schedule = law is { IsScheduled: true } ? GainSchedule.Of(prepared, parameters, part) : null;
        var quantity = schedule?.QuantityAt(prepared, point) ?? 0;
        double Value(string name) =>
            schedule?.Has(name) == true ? schedule.Value(name, quantity) : parameters.Values[Parameter(name)!.Index];
        // A parameter T alone makes no samples.
        return law is null || law.IsSampled && !prepared.Model.Clocks.Any(c => c.Owner == part)
            ? throw new DesignException(
                "not-a-controller",
                $"'{part}' is not a controller that can be tuned.",
                "Choose a PI, PID or disturbance-rejecting controller of the library, continuous or sampled."
            )
            : (law, law.Read(Value));
    }

    /// <summary>The plant of a controller that works at samples: what its held output does to what it measures at the next ones, with all
    /// other samples there are.</summary>
    static LinearSystem Sampled(PreparedModel prepared, OperatingPoint point, string part, double period)
    {
        var (input, output) = ($"{part}.u", $"{part}.y");
        if (!SampledSystem.IsBetween(prepared, input, output, input))
            return SampledPlane.Of(
                Discretisation.Of(Linearizer.Between(prepared, point, input, output, input).Reduced(), period, Hold.Zoh),
                period
            );
        var sampled = SampledSystem.Between(prepared, point, input, output, input);
        return Math.Abs(sampled.Period / period - 1) < 1e-9
            ? SampledPlane.Of(sampled.Held().Reduced(), period)
            : throw new DesignException(
                "sample-times",
                FormattableString.Invariant(
                    $"Other samples of the loop repeat every {sampled.Period:G4} s, those of the controller every {period:G4} s."
                ),
                "Let the others sample a whole number of times in the controller's period."
            );
    }

    /// <summary>Proposals of every form for a wanted bandwidth (rad/s) and phase margin (degrees): the present gains, then what is stable,
    /// then the rest.</summary>
    public IReadOnlyList<PidCandidate> Candidates(double bandwidth, double phaseMargin, CancellationToken cancellation = default)
    {
        var list = new List<PidCandidate>();
        foreach (var form in Law.Forms)
        {
            // Rounded as they would be written, so that what is judged is what is applied.
            var solved = PidTuning.Solve(Plant, Shape with { Form = form }, bandwidth, phaseMargin, cancellation);
            var judged = PidTuning.Judge(solved.Name, Written(solved.Gains), Plant, solved.IsExact, null, cancellation);
            list.Add(judged with { Remark = judged.IsStable == solved.IsStable ? solved.Remark : judged.Remark });
        }

        return [PidTuning.Judge("present", Present, Plant, false, null, cancellation), .. list.OrderBy(c => c.IsStable ? 0 : 1)];
    }

    /// <summary>Gains as they are written into fields: with five digits.</summary>
    public static PidGains Written(PidGains gains) => gains with { K = Rounded(gains.K), Ti = Rounded(gains.Ti), Td = Rounded(gains.Td) };

    /// <inheritdoc cref="Written(PidGains)"/>
    public static LoopController Written(LoopController gains) =>
        gains switch
        {
            PidGains pid => Written(pid),
            RejectionGains r => r with { InputGain = Rounded(r.InputGain), Bandwidth = Rounded(r.Bandwidth), Ratio = Rounded(r.Ratio) },
            _ => gains,
        };

    static double Rounded(double value) => double.Parse(value.ToString("G5", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);
}
