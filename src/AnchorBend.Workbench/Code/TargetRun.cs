using AnchorBend.Compiler.Preparation;
using AnchorBend.Delivery;
using AnchorBend.Delivery.Targets;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Code;

/// <summary>A unit on a target.</summary>
/// <param name="Delivery">Its id in the model.</param>
/// <param name="Hash">Of its code.</param>
/// <param name="Cost">Of its steps: ns in a process, instructions on a board.</param>
/// <param name="Size">On a board; null in a process.</param>
public sealed record TargetUnitView(string Delivery, string Name, string Hash, StepCostView Cost, BoardSize? Size);

/// <summary>What a target does in a run.</summary>
/// <param name="Part">The part that the code stands for, by ids.</param>
/// <param name="Step">Of the code, s.</param>
/// <param name="Active">Number of the unit that has the plant, from 1.</param>
/// <param name="IsThere">Whether its process goes on.</param>
/// <param name="IsLost">Whether it has ended by itself: what it gave last is old.</param>
/// <param name="ReadsBefore">Whether inputs are read before outputs are given, as these lead to those within one instant.</param>
public sealed record TargetView(
    TargetKind Kind,
    string Part,
    double Step,
    int Active,
    bool IsThere,
    bool IsLost,
    bool ReadsBefore,
    IReadOnlyList<TargetUnitView> Units,
    IReadOnlyList<HandOver> HandOvers
);

/// <summary>Code of deliveries on a target, with the model that they have the rest of.</summary>
public sealed class TargetRun : IDisposable
{
    readonly Target target;
    readonly string part;
    readonly IReadOnlyList<(string Id, string Name, string Hash)> units;

    TargetRun(Target target, string part, IReadOnlyList<(string Id, string Name, string Hash)> units, JoinedModel joined)
    {
        (this.target, this.part, this.units, Joined) = (target, part, units, joined);
    }

    public JoinedModel Joined { get; }

    /// <summary>What a run is given with the model.</summary>
    public IReadOnlyDictionary<long, IOutsideUnit> Given => new Dictionary<long, IOutsideUnit> { [TargetDocument.Number] = target };

    /// <param name="deliveries">By ids; the first one has the plant at the start.</param>
    /// <exception cref="DeliveryException">They cannot be run there; says why.</exception>
    public static TargetRun Start(
        PreparedModel whole,
        ModelDocument document,
        PartCatalog catalog,
        IReadOnlyList<string> deliveries,
        TargetKind kind,
        CancellationToken wanted
    )
    {
        if (deliveries.Count is 0 or > MostUnits)
            throw new DeliveryException("deliveries", $"From one to {MostUnits} units run on a target.", "Name some of the model.");
        var nodes = deliveries.Select(d => (Id: d, Node: DeliveryWork.Node(document, d))).ToList();
        if (nodes.Exists(n => n.Node.Part.Length == 0))
            throw new DeliveryException("whole", "A whole model has no plant beside it.", "Run one of its parts on the target.");
        var made = nodes.ConvertAll(n => CodeUnit.Of(whole, document, catalog, CodeWork.Request(DeliveryWork.OrderOf(n.Node))));
        var target = Target.Start(made, kind, wanted);
        try
        {
            var part = nodes[0].Node.Part;
            var joined = TargetDocument.Of(whole, document, catalog.For, part, target);
            return new TargetRun(
                target,
                part,
                [.. nodes.Zip(made, (n, u) => (n.Id, n.Node.Name, DeliveryWork.Written(u, n.Node).Hash))],
                joined
            );
        }
        catch
        {
            target.Dispose();
            throw;
        }
    }

    const int MostUnits = 8;

    /// <summary>What it has done so far, also after it has ended.</summary>
    public TargetView View()
    {
        var (costs, sizes) = (target.Costs(), target.Sizes());
        return new TargetView(
            target.Kind,
            part,
            target.Units[0].Request.Step,
            target.Active,
            target.IsThere,
            target.IsLost,
            Joined.ReadsBefore,
            [.. units.Select((u, i) => new TargetUnitView(u.Id, u.Name, u.Hash, costs[i], sizes.ElementAtOrDefault(i)))],
            target.HandOvers()
        );
    }

    public void Dispose() => target.Dispose();
}
