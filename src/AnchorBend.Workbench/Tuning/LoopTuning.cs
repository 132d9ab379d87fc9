using System.Numerics;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Tuning;

/// <summary>Proposes gains for one loop of a model.</summary>
public sealed class LoopTuning(ComputeGate compute)
{
    /// <summary>What a proposal may take, the run to its operating point included.</summary>
    static readonly TimeSpan MostTuning = TimeSpan.FromSeconds(30);

    /// <exception cref="NotFoundException">There is no such part.</exception>
    /// <exception cref="DesignException">There is no loop, or the wishes cannot be met.</exception>
    public TuneAnswer Propose(ModelSession session, TuneRequest request, CancellationToken wanted) =>
        compute.Run(MostTuning, wanted, token => Proposed(session, request, token));

    static TuneAnswer Proposed(ModelSession session, TuneRequest request, CancellationToken wanted)
    {
        var (prepared, document, _) = session.Prepare(wanted);
        if (!prepared.CanRun)
            throw new DocumentException("The model has errors; see its findings.");
        if (
            !PartPath.TryParse(request.Part, out var path)
            || document.Part(path) is not { } found
            || prepared.Map.NameOf(path) is not { } name
        )
            throw new NotFoundException("There is no such part.");
        var part = found.Part;
        if (session.Catalog() is var catalog && (catalog.Find(part.Type) is null || catalog.Describe(part.Type).Traits.Tunable is null))
            throw new DesignException(
                "not-a-controller",
                $"'{part.Name}' is not a PID controller.",
                "Choose a controller whose gains can be proposed."
            );
        var parameters = new ParameterSet(prepared.Model);
        var (design, point, bandwidth, margin, candidates) = LoopProposal.Of(
            prepared,
            parameters,
            name,
            new LoopWishes(request.At, request.Bandwidth, request.PhaseMargin),
            DocumentRun.OptionsOf(document),
            wanted
        );
        var frequencies = FrequencyGrid.Between(bandwidth / 100, bandwidth * 100, 160);
        var end = 12 / bandwidth * Math.Max(1, 60 / margin);
        var views = candidates.Select(c => View(c, design.Plant, frequencies, end, Texts(prepared, part, name, c.Gains))).ToList();
        var times = Enumerable.Range(0, 301).Select(i => i * end / 300).ToList();
        return new TuneAnswer(
            request.Part,
            point.IsSteady ? "steady state at the start" : $"{point.Time:G5} s",
            bandwidth,
            margin,
            frequencies,
            times,
            [.. PolesAndZeros.Poles(design.Plant).Select(p => new ComplexView(p.Real, p.Imaginary))],
            views
        );
    }

    static Dictionary<string, string> Texts(PreparedModel prepared, PartNode part, string path, PidGains gains)
    {
        var texts = new Dictionary<string, string> { ["form"] = $"Form.{gains.Form}" };
        void Set(string name, double value) =>
            texts[name] = TypedValue.InUnitOf(part.Parameters.GetValueOrDefault(name), value, prepared.Model.Find($"{path}.{name}")?.Unit);
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
