using System.Globalization;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;

namespace AnchorBend.Design;

/// <summary>The loop of one PID part, opened at its output: what it controls, and its present gains.</summary>
public sealed record LoopDesign(string Part, LinearSystem Plant, PidGains Present, OperatingPoint Point)
{
    /// <summary>Takes the loop of a PID part out of a model.</summary>
    /// <param name="part">Path of the part.</param>
    /// <exception cref="DesignException">It is no PID, or nothing comes back to it.</exception>
    public static LoopDesign Of(PreparedModel prepared, ParameterSet parameters, string part, OperatingPoint point)
    {
        var present = PresentGains(prepared, parameters, part);
        var plant = Linearizer.Between(prepared, point, $"{part}.u", $"{part}.y", $"{part}.u").Reduced();
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

        return new LoopDesign(part, plant, present, point);
    }

    /// <summary>The gains that a PID part has now.</summary>
    /// <exception cref="DesignException">It is no PID.</exception>
    public static PidGains PresentGains(PreparedModel prepared, ParameterSet parameters, string part)
    {
        double Parameter(string name) =>
            prepared.Model.Find($"{part}.{name}") is { Role: VariableRole.Parameter } v
                ? parameters.Values[v.Index]
                : throw new DesignException("not-a-controller", $"'{part}' is not a PID controller.", "Choose a part of the type PID.");
        var form = (PidForm)((int)Parameter("form") - 1);
        return new PidGains(form, Parameter("k"), Parameter("Ti"), Parameter("Td"), Parameter("N"), Parameter("b"), Parameter("c"));
    }

    /// <summary>Proposals of every form for a wanted bandwidth (rad/s) and phase margin (degrees): the present gains, then what is stable,
    /// then the rest.</summary>
    public IReadOnlyList<PidCandidate> Candidates(double bandwidth, double phaseMargin, CancellationToken cancellation = default)
    {
        var list = new List<PidCandidate>();
        foreach (var form in Enum.GetValues<PidForm>())
        {
            // Rounded as they would be written, so that what is judged is what is applied.
            var solved = PidTuning.Solve(Plant, form, bandwidth, phaseMargin, Math.Max(1, Present.N), Present.B, Present.C, cancellation);
            var judged = PidTuning.Judge(solved.Name, Written(solved.Gains), Plant, solved.IsExact, null, cancellation);
            list.Add(judged with { Remark = judged.IsStable == solved.IsStable ? solved.Remark : judged.Remark });
        }

        return [PidTuning.Judge("present", Present, Plant, false, null, cancellation), .. list.OrderBy(c => c.IsStable ? 0 : 1)];
    }

    /// <summary>Gains as they are written into fields: with five digits.</summary>
    public static PidGains Written(PidGains gains) => gains with { K = Rounded(gains.K), Ti = Rounded(gains.Ti), Td = Rounded(gains.Td) };

    static double Rounded(double value) => double.Parse(value.ToString("G5", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);
}
