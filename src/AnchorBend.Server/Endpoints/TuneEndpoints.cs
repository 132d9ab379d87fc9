using System.Numerics;
using AnchorBend.Design;
using AnchorBend.Modeling.Documents;
using AnchorBend.Server.Compute;
using AnchorBend.Server.Models;
using AnchorBend.Simulation;

namespace AnchorBend.Server.Endpoints;

/// <param name="Part">Id of the PID part.</param>
/// <param name="At">Instant of the operating point in s; null for the steady state.</param>
/// <param name="Bandwidth">rad/s; null for a suggestion.</param>
public sealed record TuneRequest(string Part, double? At, double? Bandwidth, double? PhaseMargin);

public sealed record ComplexView(double Re, double Im);

/// <param name="Parameters">The texts that set these gains, each in the unit that stands in its field.</param>
public sealed record CandidateView(
    string Name,
    string Form,
    double K,
    double? Ti,
    double? Td,
    double? Bandwidth,
    double? PhaseMargin,
    double? GainMargin,
    double? GainMarginFrequency,
    bool IsStable,
    bool IsExact,
    string? Remark,
    IReadOnlyList<double> Magnitude,
    IReadOnlyList<double> Phase,
    IReadOnlyList<double> Step,
    IReadOnlyList<ComplexView> Poles,
    IReadOnlyDictionary<string, string> Parameters
);

/// <summary>Candidates with their open-loop frequency responses (dB, degrees) and closed-loop step responses on shared grids.</summary>
public sealed record TuneAnswer(
    string Part,
    string OperatingPoint,
    double Bandwidth,
    double PhaseMargin,
    IReadOnlyList<double> Frequencies,
    IReadOnlyList<double> Times,
    IReadOnlyList<ComplexView> PlantPoles,
    IReadOnlyList<CandidateView> Candidates
);

/// <summary>Tuning of one loop.</summary>
static class TuneEndpoints
{
    public static void Map(RouteGroupBuilder api) =>
        api.MapPost("/models/{id}/tune", Tune).WithName("tune").Produces<TuneAnswer>().ProducesProblem(422);

    /// <summary>What a proposal may take, the run to its operating point included.</summary>
    static readonly TimeSpan MostTuning = TimeSpan.FromSeconds(30);

    static IResult Tune(string id, TuneRequest request, ModelSessions sessions, ComputeGate compute, CancellationToken wanted)
    {
        if (sessions.Find(id) is not { } session)
            return Problems.NoModel(id);
        if (request.Part is null)
            return Problems.BadRequest("The request cannot be understood: $.part is missing.");
        return compute.Run(MostTuning, wanted, token => Propose(session, request, token));
    }

    static IResult Propose(ModelSession session, TuneRequest request, CancellationToken wanted)
    {
        var (prepared, document, _) = session.Prepare(wanted);
        if (!prepared.CanRun)
            throw new DocumentException("The model has errors; see its findings.");
        if (!document.Parts.TryGetValue(request.Part, out var part))
            return Problems.NotFound("There is no such part.");
        var parameters = new ParameterSet(prepared.Model);
        // What cannot be proposed should not wait for a run to its operating point.
        LoopDesign.PresentGains(prepared, parameters, part.Name);
        PidTuning.CheckWishes(request.Bandwidth ?? 1, request.PhaseMargin ?? 60);
        var options = DocumentRun.OptionsOf(document);
        if (request.At is { } wish && !(wish >= 0 && wish <= options.End))
            throw new DesignException(
                "operating-point",
                $"The operating point lies at {wish:G5} s, outside the run, which goes from 0 to {options.End:G5} s.",
                "Choose an instant within the run, or the steady state."
            );
        var point = request.At is { } time
            ? OperatingPoint.AtTime(prepared, parameters, time, options, wanted)
            : OperatingPoint.Steady(prepared, parameters);
        var design = LoopDesign.Of(prepared, parameters, part.Name, point);
        var bandwidth = request.Bandwidth
            ?? PidTuning.Judge("present", design.Present, design.Plant, false, null, wanted).Bandwidth
            ?? PidTuning.SuggestBandwidth(design.Plant);
        var margin = request.PhaseMargin ?? 60;
        var candidates = design.Candidates(bandwidth, margin, wanted);
        var frequencies = FrequencyGrid.Between(bandwidth / 100, bandwidth * 100, 160);
        var end = 12 / bandwidth * Math.Max(1, 60 / margin);
        var views = candidates.Select(c => View(c, design.Plant, frequencies, end, Texts(prepared, part, c.Gains))).ToList();
        var times = Enumerable.Range(0, 301).Select(i => i * end / 300).ToList();
        return Results.Ok(
            new TuneAnswer(
                request.Part,
                point.IsSteady ? "steady state at the start" : $"{point.Time:G5} s",
                bandwidth,
                margin,
                frequencies,
                times,
                [.. PolesAndZeros.Poles(design.Plant).Select(p => new ComplexView(p.Real, p.Imaginary))],
                views
            )
        );
    }

    static Dictionary<string, string> Texts(PreparedModel prepared, PartNode part, PidGains gains)
    {
        var texts = new Dictionary<string, string> { ["form"] = $"Form.{gains.Form}" };
        void Set(string name, double value) =>
            texts[name] = TypedValue.InUnitOf(
                part.Parameters.GetValueOrDefault(name),
                value,
                prepared.Model.Find($"{part.Name}.{name}")?.Unit
            );
        Set("k", gains.K);
        if (gains.HasIntegral)
            Set("Ti", gains.Ti);
        if (gains.HasDerivative)
            Set("Td", gains.Td);
        return texts;
    }

    static CandidateView View(
        PidCandidate c,
        LinearSystem plant,
        double[] frequencies,
        double end,
        IReadOnlyDictionary<string, string> parameters
    )
    {
        var loop = c.Gains.OpenLoop(plant);
        var closed = c.Gains.ClosedLoop(plant);
        var response = frequencies.Select(w => loop.At(new Complex(0, w))).ToArray();
        var phase = new double[response.Length];
        for (var i = 0; i < phase.Length; i++)
        {
            phase[i] = response[i].Phase * 180 / Math.PI;
            if (i == 0 && phase[i] > 90)
                phase[i] -= 360;
            if (i > 0)
                phase[i] += 360 * Math.Round((phase[i - 1] - phase[i]) / 360);
        }

        static double? Finite(double? v) => v is { } x && double.IsFinite(x) ? x : null;
        return new CandidateView(
            c.Name,
            c.Gains.Form.ToString(),
            c.Gains.K,
            c.Gains.HasIntegral ? c.Gains.Ti : null,
            c.Gains.HasDerivative ? c.Gains.Td : null,
            Finite(c.Bandwidth),
            Finite(c.Margins.Phase?.Margin),
            Finite(c.Margins.Gain?.Margin),
            Finite(c.Margins.Gain?.Frequency),
            c.IsStable,
            c.IsExact,
            c.Remark,
            [.. response.Select(r => Math.Clamp(20 * Math.Log10(r.Magnitude), -200, 200))],
            [.. phase.Select(p => double.IsFinite(p) ? p : 0)],
            c.IsStable ? [.. StepResponse.Of(closed, end, 300).Values.Select(v => double.IsFinite(v) ? v : 0)] : [],
            [.. PolesAndZeros.Poles(closed).Select(p => new ComplexView(p.Real, p.Imaginary))],
            parameters
        );
    }
}
