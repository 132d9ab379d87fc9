using System.Diagnostics.CodeAnalysis;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>What feeds the inputs that an option feeds, while the option is left out: a part for each of its outputs.</summary>
public sealed class StandIns(DiagramDefinition diagram, PartCatalog catalog)
{
    /// <summary>The stand-in of one output.</summary>
    /// <param name="Value">What the output is while its part is left out, as typed.</param>
    /// <param name="Beside">Other parts that feed the same inputs on conditions of their own: it is there when none of them is.</param>
    public sealed record StandIn(
        PartNode Node,
        string Port,
        PortDescription Described,
        string? Unit,
        string Value,
        IReadOnlyList<PortReference> Fed,
        IReadOnlyList<PartNode> Beside
    )
    {
        public string Part => Node.Name;

        string Name => string.Join(' ', [Node.Name, Port, "left out", .. Beside.Select(b => $"with {b.Name}")]);

        /// <summary>The options that it stands for.</summary>
        public IEnumerable<PartNode> Options => Beside.Prepend(Node);

        /// <summary>The component, in the model just when none of the options is.</summary>
        /// <param name="conditions">Those of the options.</param>
        public ComponentDeclaration Declaration(Expression value, IEnumerable<Expression> conditions)
        {
            var type = (value, Described.Type) switch
            {
                (ArrayLiteral, _) => "StandInVector",
                (_, "Boolean") => "StandInTruth",
                (_, "Integer") => "StandInWhole",
                _ => "StandIn",
            };
            List<ModificationArgument> arguments = [Argument("value", new Modification(UnitOf(value, type), value))];
            if (UnitOf(value, type) is { Count: > 0 } unit)
                arguments.Add(Argument("y", new Modification(unit, null)));
            return new ComponentDeclaration(type, Name, default)
            {
                IsProtected = true,
                Condition = conditions
                    .Select(c => (Expression)new Unary(UnaryKind.Not, c, c.At))
                    .Aggregate((a, b) => new Binary(BinaryKind.And, a, b, a.At)),
                Modification = new Modification(arguments, null),
                Annotation = DiagramAnnotations.Ours((DiagramAnnotations.StandIn, "true")),
            };
        }

        /// <summary>A number typed alone is in the unit that the output has.</summary>
        List<ModificationArgument> UnitOf(Expression value, string type)
        {
            var unit = value is Quantity quantity ? quantity.Unit.Symbol : Unit;
            return type == "StandIn" && unit is { Length: > 0 }
                ? [Argument("unit", Modification.Of(new StringLiteral(unit, default)))]
                : [];
        }

        static ModificationArgument Argument(string name, Modification value) => new(name, value, false, false, default);

        public IEnumerable<ConnectEquation> Connections(DiagramDefinition diagram, PartCatalog catalog) =>
            Fed.Select(to => DiagramClass.End(diagram, catalog, to))
                .OfType<Reference>()
                .Select(to => new ConnectEquation(
                    new Reference([new ReferencePart(Name, []), new ReferencePart("y", [])], default),
                    to,
                    default
                ));
    }

    /// <summary>A vector has one only where its value was stated: how long it is is not known while it is left out.</summary>
    public IEnumerable<StandIn> All => diagram.Parts.Values.Any(p => p.OnlyWhen is { Length: > 0 }) ? Found().Concat(Shared()) : [];

    IEnumerable<StandIn> Found() =>
        from wires in diagram.Wires.Values.GroupBy(w => w.From)
        let part = diagram.Parts.GetValueOrDefault(wires.Key.Part)
        where IsOption(part)
        let fed = wires.Where(w => !IsShared(wires.Key, w.To)).Select(w => w.To).ToList()
        where fed.Count > 0
        let described = Described(part, wires.Key.Port)
        where described is { Domain: null, Causality: Causality.Output }
        let stated = part.Otherwise?.GetValueOrDefault(wires.Key.Port)
        where stated is not null || !described.IsVector
        select new StandIn(
            part,
            wires.Key.Port,
            described,
            UnitOf(part, described),
            stated ?? (described.Type == "Boolean" ? "false" : "0"),
            fed,
            []
        );

    /// <summary>Whether a part is there on a condition; one that cannot be read is told where it was typed.</summary>
    static bool IsOption([NotNullWhen(true)] PartNode? part)
    {
        if (part is not { OnlyWhen: { Length: > 0 } condition })
            return false;
        try
        {
            Parser.ParseField(condition);
            return true;
        }
        catch (LanguageException)
        {
            return false;
        }
    }

    /// <summary>Of inputs that several options feed, one of which states a value: it is there while none of them is.</summary>
    IEnumerable<StandIn> Shared() =>
        from inputs in Others
            .Where(o => o.Distinct().Count() > 1)
            .Select(o => (Input: o.Key, Sources: o.Distinct().OrderBy(s => s.ToString(), StringComparer.Ordinal).ToList()))
            .Where(o => o.Sources.TrueForAll(s => IsOption(diagram.Parts.GetValueOrDefault(s.Part))))
            .GroupBy(o => string.Join('|', o.Sources), o => o)
        let sources = inputs.First().Sources
        let stating = sources.Find(s => diagram.Parts[s.Part].Otherwise?.ContainsKey(s.Port) == true)
        where stating is not null
        let part = diagram.Parts[stating.Part]
        let described = Described(part, stating.Port)
        where described is { Domain: null, Causality: Causality.Output }
        select new StandIn(
            part,
            stating.Port,
            described,
            UnitOf(part, described),
            part.Otherwise![stating.Port],
            [.. inputs.Select(i => i.Input)],
            [.. sources.Where(s => s.Part != stating.Part).Select(s => diagram.Parts[s.Part]).Distinct()]
        );

    /// <summary>Whether another part that is there on a condition feeds the same input: one of them is meant to be in.</summary>
    bool IsShared(PortReference from, PortReference to) => Others[to].Any(f => f != from);

    ILookup<PortReference, PortReference> Others => others ??= diagram.Wires.Values.ToLookup(w => w.To, w => w.From);

    ILookup<PortReference, PortReference>? others;

    /// <summary>The unit that the class of a part declares for an output; null where it leaves it open.</summary>
    string? UnitOf(PartNode part, PortDescription port) =>
        (
            catalog.Find(part.Type)?.Components.FirstOrDefault(c => c.Name == port.Name)?.Modification?.Argument("unit")?.Value.Binding
            as StringLiteral
        )?.Value;

    PortDescription? Described(PartNode part, string port) =>
        catalog.Find(part.Type) is not { } type || BundlePart.Is(type)
            ? null
            : PortPart
                .Placed(catalog.Describe(part.Type), part)
                .Ports.FirstOrDefault(p => p.Name == port || p.Name == port.Split('[', '.')[0]);
}
