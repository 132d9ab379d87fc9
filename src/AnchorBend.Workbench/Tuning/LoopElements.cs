using System.Globalization;
using System.Text.Json.Nodes;
using AnchorBend.Design;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Tuning;

/// <param name="Part">Path of the loop's controller by ids.</param>
/// <param name="Gains">Of the controller; null for the present ones.</param>
/// <param name="Kind">notch, lead or lag.</param>
/// <param name="Frequency">rad/s; null for what suits the loop.</param>
/// <param name="Amount">Notch: damping of its poles; lead: degrees; lag: factor of the gain. Null for what is usual.</param>
public sealed record LoopElementRequest(
    string Part,
    double? At,
    string? Point,
    GainsView? Gains,
    string Kind,
    double? Frequency,
    double? Amount
);

/// <param name="Frequency">rad/s.</param>
public sealed record ResonanceView(double Frequency, double Damping);

/// <summary>What an element behind a controller does to its loop, and the edit that puts it there.</summary>
/// <param name="Before">Of the gains without it.</param>
/// <param name="After">Of the same gains with it.</param>
/// <param name="Resonances">Of the plant, the largest in the loop first.</param>
public sealed record LoopElementAnswer(
    double Frequency,
    double Amount,
    LoopFiguresView Before,
    LoopFiguresView After,
    string? Warning,
    IReadOnlyList<ResonanceView> Resonances,
    ActionView Action
);

/// <summary>Notches, leads and lags between a controller and its plant.</summary>
public sealed class LoopElements(ComputeGate compute, TunedLoops loops)
{
    static readonly TimeSpan Most = TimeSpan.FromSeconds(30);

    /// <summary>What is usual: damping of a notch's poles, degrees, and a factor.</summary>
    const double UsualWidth = 0.7,
        UsualLead = 30,
        UsualLag = 3;

    const double Below = 110,
        Beside = 130;

    const int MostResonances = 4;

    /// <exception cref="DesignException">There is no loop, or no element of this kind.</exception>
    public LoopElementAnswer Of(ModelSession session, LoopElementRequest request, CancellationToken wanted) =>
        compute.Run(Most, wanted, token => Found(session, request, token));

    LoopElementAnswer Found(ModelSession session, LoopElementRequest request, CancellationToken wanted)
    {
        if (!Enum.TryParse<LoopElementKind>(request.Kind, true, out var kind) || !Enum.IsDefined(kind))
            throw new DesignException("kind", $"There is no element '{request.Kind}'.", "Take notch, lead or lag.");
        var loop = loops.Find(session, request.Part, request.At, request.Point, wanted);
        var design = loop.Design;
        var gains = request.Gains is { } typed ? DesignAsks.Typed(typed, design.Present, design.Law) : design.Present;
        var before = LoopFigures.Of(gains, design.Plant, wanted);
        var resonances = Resonance.Of(design.Plant, gains.OpenLoop(design.Plant), gains.Period);
        var bandwidth = before.Margins.GainCrossings.Select(c => c.Frequency).DefaultIfEmpty(before.Sensitivity.Frequency).Max();
        var frequency = request.Frequency
            ?? kind switch
            {
                LoopElementKind.Notch => resonances.Count > 0 ? resonances[0].Frequency : before.Sensitivity.Frequency,
                LoopElementKind.Lead => bandwidth,
                _ => bandwidth / 10,
            };
        var element = new LoopElement(
            kind,
            frequency,
            request.Amount
                ?? kind switch
                {
                    LoopElementKind.Notch => UsualWidth,
                    LoopElementKind.Lead => UsualLead,
                    _ => UsualLag,
                },
            Depth(resonances, frequency),
            gains.Period
        );
        element.Check();
        var after = LoopFigures.Of(gains, element.Before(design.Plant), wanted);
        return new LoopElementAnswer(
            frequency,
            element.Amount,
            DesignViews.Figures(before, null),
            DesignViews.Figures(after, null),
            DesignViews.Warning(after),
            [.. resonances.Take(MostResonances).Select(r => new ResonanceView(r.Frequency, r.Damping))],
            Placed(loop.Controller, element)
        );
    }

    /// <summary>A notch's zeros take the place of the poles that it is for.</summary>
    static double Depth(IReadOnlyList<Resonance> resonances, double frequency) =>
        resonances.FirstOrDefault(r => Math.Abs(Math.Log(r.Frequency / frequency)) < 0.1)?.Damping ?? 0.05;

    static ActionView Placed(TunedController controller, LoopElement element)
    {
        static string Number(double v) =>
            double.Parse(v.ToString("G6", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture)
                .ToString("R", CultureInfo.InvariantCulture);
        var place = controller.Prepared.Map.Find(controller.Path)!;
        var diagram = (DiagramDefinition)controller.Document.Definitions[place.Definition];
        string Free<T>(IReadOnlyDictionary<string, T> taken, string letter) =>
            Enumerable
                .Range(taken.Count + 1, int.MaxValue - taken.Count - 1)
                .Select(n => $"{letter}{n}")
                .First(id => !taken.ContainsKey(id));
        var (id, wire) = (Free(diagram.Parts, "p"), Free(diagram.Wires, "w"));
        var parameters = new JsonObject();
        if (element.Kind == LoopElementKind.Notch)
        {
            parameters["f"] = $"{Number(element.Frequency / (2 * Math.PI))} Hz";
            parameters["D1"] = Number(element.Damping);
            parameters["D2"] = Number(element.Amount);
        }
        else
        {
            var (k, t1, t2) = element.Times;
            (parameters["k"], parameters["T1"], parameters["T2"]) = (Number(k), $"{Number(t1)} s", $"{Number(t2)} s");
        }

        if (element.Period > 0)
            parameters["T"] = controller.Node.Parameters.GetValueOrDefault("T") ?? $"{Number(element.Period)} s";
        var type = element.Kind == LoopElementKind.Notch ? "Notch" : "LeadLag";
        var title = element.Kind.ToString();
        var node = new JsonObject
        {
            ["type"] = element.Period > 0 ? "Sampled" + type : type,
            ["name"] = diagram.FreeName(title),
            ["x"] = controller.Node.X + Beside,
            ["y"] = controller.Node.Y + Below,
            ["flip"] = controller.Node.Flip,
            ["turn"] = 0,
            ["parameters"] = parameters,
        };
        string At(string what, string of) => DocumentPath.Of("definitions", place.Definition, what, of);
        JsonObject End(string part, string port) => new() { ["part"] = part, ["port"] = port };
        JsonObject Wire(JsonObject from, JsonObject to) =>
            new()
            {
                ["from"] = from,
                ["to"] = to,
                ["bends"] = new JsonArray(),
            };
        var output = new PortReference(place.Path.Id, "u");
        List<PatchOperation> operations = [new("add", At("parts", id), node)];
        foreach (var (key, joined) in diagram.Wires.Where(w => w.Value.From == output))
            operations.Add(new PatchOperation("replace", At("wires", key), Wire(End(id, "y"), End(joined.To.Part, joined.To.Port))));
        operations.Add(new PatchOperation("add", At("wires", wire), Wire(End(place.Path.Id, "u"), End(id, "u"))));
        return new ActionView($"Put a {title.ToLowerInvariant()} behind {controller.Node.Name}", operations);
    }
}
