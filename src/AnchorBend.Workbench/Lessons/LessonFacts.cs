using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation.Recording;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;

namespace AnchorBend.Workbench.Lessons;

/// <summary>What somebody has done in a model so far, as lessons ask for it: seen in the model itself, whichever way it was done.</summary>
public sealed class LessonFacts(
    ModelDocument document,
    PartCatalog catalog,
    IReadOnlyList<Checkpoint> checkpoints,
    ComputeGate compute,
    CancellationToken wanted
)
{
    /// <summary>What the run that checks a task may take.</summary>
    static readonly TimeSpan MostRunning = TimeSpan.FromSeconds(5);

    readonly DiagramDefinition diagram = document.Main;
    (double[] Times, Dictionary<string, double[]> Values)? run;

    public IEnumerable<KeyValuePair<string, PartNode>> Parts(string type) => diagram.Parts.Where(p => p.Value.Type == type);

    public bool Has(string type) => Parts(type).Any();

    public bool HasCheckpoint => checkpoints.Count > 0;

    public bool HasRequirement => document.Requirements.Count > 0;

    /// <summary>Whether a signal goes from a part of one kind to one of another, through whichever parts.</summary>
    /// <param name="into">The port where it arrives; any where it is null.</param>
    public bool Leads(string from, string to, string? into = null)
    {
        var reached = Parts(from).Select(p => p.Key).ToHashSet();
        var waiting = new Queue<string>(reached);
        while (waiting.TryDequeue(out var part))
            foreach (var wire in diagram.Wires.Values.Where(w => w.From.Part == part))
            {
                if (diagram.Parts.GetValueOrDefault(wire.To.Part)?.Type == to && (into is null || wire.To.Port == into))
                    return true;
                if (reached.Add(wire.To.Part))
                    waiting.Enqueue(wire.To.Part);
            }
        return false;
    }

    /// <summary>Whether a physical wire, or a junction of several, joins a part of one kind to one of another.</summary>
    public bool Joined(string one, string other)
    {
        var nets = new Dictionary<PortReference, PortReference>();
        PortReference Net(PortReference port)
        {
            while (nets.TryGetValue(port, out var next) && next != port)
                port = next;
            return port;
        }

        foreach (var wire in diagram.Wires.Values)
            nets[Net(wire.From)] = Net(wire.To);
        HashSet<PortReference> Of(string type) =>
            [
                .. diagram
                    .Wires.Values.SelectMany(w => (PortReference[])[w.From, w.To])
                    .Where(p => diagram.Parts.GetValueOrDefault(p.Part)?.Type == type)
                    .Select(Net),
            ];
        return Of(one).Overlaps(Of(other));
    }

    /// <summary>What is said of the signal that a part of a kind puts out.</summary>
    public IEnumerable<SignalNode> Signals(string type) =>
        Parts(type)
            .SelectMany(p => diagram.Signals.Where(s => s.Key.StartsWith(p.Key + ".", StringComparison.Ordinal)).Select(s => s.Value));

    /// <summary>Whether somebody gave a parameter of such a part a value of their own.</summary>
    public bool Set(string type, params ReadOnlySpan<string> parameters)
    {
        foreach (var name in parameters)
            if (!Parts(type).Any(p => p.Value.Parameters.ContainsKey(name)))
                return false;
        return true;
    }

    /// <summary>How many wires arrive at parts of a kind.</summary>
    public int Arriving(string type) => diagram.Wires.Values.Count(w => diagram.Parts.GetValueOrDefault(w.To.Part)?.Type == type);

    /// <summary>The charts of the model that stand on its level, with the part that each is.</summary>
    public IEnumerable<(string Part, ChartDefinition Chart)> Charts =>
        from part in diagram.Parts
        where DefinitionReference.Parse(part.Value.Type) is { IsOwn: true }
        let chart = document.Definitions.GetValueOrDefault(DefinitionReference.Parse(part.Value.Type).Key) as ChartDefinition
        where chart is not null
        select (part.Key, chart);

    public bool IsWiredInto(string part) => diagram.Wires.Values.Any(w => w.To.Part == part);

    /// <summary>A signal of a run of the model as it is, in the unit that the model computes in; null where it does not run.</summary>
    public (double[] Times, double[] Values)? Course(string part, string port)
    {
        var (times, values) = run ??= Run();
        return values.GetValueOrDefault($"{part}.{port}") is { Length: > 0 } found ? (times, found) : null;
    }

    (double[], Dictionary<string, double[]>) Run()
    {
        var nothing = (Array.Empty<double>(), new Dictionary<string, double[]>());
        try
        {
            return compute.Run(MostRunning, wanted, w =>
            {
                var prepared = DocumentPreparation.Prepare(document, catalog);
                if (!prepared.CanRun)
                    return nothing;
                var parameters = new ParameterSet(prepared.Model);
                var result = VerifiedRun.Of(prepared, parameters, RunPool.OptionsOf(document), document, w).Result;
                using var trace = result.Trace;
                if (result.Failure is not null)
                    return nothing;
                var values = new Dictionary<string, double[]>();
                foreach (var (id, _) in diagram.Parts)
                foreach (var port in (string[])["y", .. Outputs(id)])
                    if (
                        prepared.Find(new SignalReference(PartPath.Root.Then(id), port)) is { } variable
                        && RecordedSignal.Has(prepared, trace, variable)
                    )
                        values[$"{id}.{port}"] = RecordedSignal.Values(prepared, parameters.Values, trace, variable);
                return ([.. trace.Times], values);
            });
        }
        catch (Exception e) when (e is TooLongException or DocumentException or Simulation.SimulationException or Language.BudgetException)
        {
            return nothing;
        }
    }

    IEnumerable<string> Outputs(string part) =>
        Charts
            .Where(c => c.Part == part)
            .SelectMany(c => c.Chart.Names.Values)
            .Where(n => n.Kind == Modeling.Written.NameKind.Output)
            .Select(n => n.Name);
}
