using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>A change of the realisations of the slot that a part is.</summary>
public abstract record SlotChange : Restructuring
{
    /// <summary>The part that is a slot.</summary>
    public required string Part { get; init; }

    internal sealed override Restructured On(LevelAt level)
    {
        var part = level.Part(Part);
        if (level.Document.DiagramOf(part) is not { Slot: { } chooser } slot || !slot.Parameters.TryGetValue(chooser, out var parameter))
            throw new DocumentException($"'{part.Name}' is no slot: make one of it first.");
        return On(level, new SlotAt(part, DefinitionReference.Parse(part.Type).Key, slot, chooser, parameter));
    }

    internal abstract Restructured On(LevelAt level, SlotAt slot);
}

/// <summary>A slot to be changed.</summary>
sealed record SlotAt(PartNode Part, string Id, DiagramDefinition Diagram, string Chooser, ParameterNode Parameter)
{
    /// <exception cref="DocumentException">The slot has no such alternative.</exception>
    public Alternative Named(string name) =>
        Slots.Of(Diagram).FirstOrDefault(a => a.Name == name)
        ?? throw new DocumentException($"'{Part.Name}' has no alternative '{DocumentLimits.Short(name)}'.");

    /// <summary>The slot's diagram with the choices that its alternatives give.</summary>
    public DiagramDefinition With(IEnumerable<string> names, string present) =>
        Diagram with
        {
            Parameters = new Dictionary<string, ParameterNode>(Diagram.Parameters)
            {
                [Chooser] = Parameter with { Value = present, Choices = [.. names.Select(n => new ChoiceNode(n, Slots.Words(n)))] },
            },
        };

    public IEnumerable<string> Names => (Parameter.Choices ?? []).Select(c => c.Name);

    /// <summary>The document with what the uses of the slot choose exchanged; a null takes the choice away.</summary>
    public ModelDocument Chosen(ModelDocument document, Func<string, string?> change)
    {
        var type = DefinitionReference.OfOwn(Id);
        foreach (var (id, definition) in document.Definitions.ToList())
        {
            if (
                definition is not DiagramDefinition diagram
                || !diagram.Parts.Values.Any(p => p.Type == type && p.Parameters.ContainsKey(Chooser))
            )
                continue;
            var parts = new Dictionary<string, PartNode>(diagram.Parts);
            foreach (var (key, use) in diagram.Parts.Where(p => p.Value.Type == type && p.Value.Parameters.ContainsKey(Chooser)))
            {
                var fields = new Dictionary<string, string>(use.Parameters);
                if (change(fields[Chooser]) is { } now)
                    fields[Chooser] = now;
                else
                    fields.Remove(Chooser);
                parts[key] = use with { Parameters = fields };
            }

            document = document.With(id, diagram with { Parts = parts });
        }

        return document;
    }
}

/// <summary>Adds a realisation to a slot and wires it to the ports that it has.</summary>
public sealed record AddAlternative : SlotChange
{
    /// <summary>What the realisation is an instance of; null for a new, empty subsystem with the slot's ports.</summary>
    public string? Type { get; init; }

    public string? Name { get; init; }

    const double Gap = 48;

    internal override Restructured On(LevelAt level, SlotAt slot)
    {
        var document = level.Document;
        var type = Type;
        var title = type is null ? "Realisation" : Title(level, slot, type);
        var taken = slot.Diagram.Parts.Values.Select(p => p.Name).Concat(slot.Names).ToHashSet();
        var name = NewIds.Name(string.IsNullOrWhiteSpace(Name) ? title : Name.Trim(), taken);
        if (type is null)
        {
            var fresh = NewIds.Definition(document);
            var ports = slot.Diagram.Parts.Where(p => level.IsPort(p.Value)).ToDictionary();
            document = document.With(fresh, new DiagramDefinition { Name = NewIds.DefinitionName(document, name), Parts = ports });
            type = DefinitionReference.OfOwn(fresh);
        }

        var id = NewIds.In(slot.Diagram.Parts, "p");
        var diagram = slot.With([.. slot.Names, name], slot.Parameter.Value);
        var sizes = new PartSizes(slot.Diagram, level.Catalog);
        var inner = slot.Diagram.Parts.Where(p => !level.IsPort(p.Value)).ToList();
        diagram = diagram with
        {
            Parts = new Dictionary<string, PartNode>(diagram.Parts)
            {
                [id] = new PartNode
                {
                    Type = type,
                    Name = name,
                    X = inner.Count == 0 ? 192 : inner.Min(p => p.Value.X),
                    Y = inner.Count == 0 ? 48 : Frame.Snapped(inner.Max(p => p.Value.Y + sizes.Of(p.Key).Height) + Gap),
                    OnlyWhen = Slots.Condition(slot.Chooser, name),
                },
            },
        };
        var catalog = level.Catalog.For(document.With(slot.Id, diagram));
        var wires = new Dictionary<string, WireNode>(diagram.Wires);
        foreach (var (port, fits) in AlternativePorts.Match(diagram, catalog, id))
            if (fits is not null)
                wires[NewIds.In(wires, "w")] = AlternativePorts.Wire(catalog, diagram.Parts[port], port, new PortReference(id, fits));
        document = document.With(slot.Id, diagram with { Wires = wires });
        return new Restructured($"Add the alternative {name}", document, [Part]);
    }

    static string Title(LevelAt level, SlotAt slot, string type)
    {
        if (level.Catalog.Find(type) is not { } definition)
            throw new DocumentException($"There is no part of type '{DocumentLimits.Short(type)}'.");
        if (PortPart.KindOf(definition) is not null || BundlePart.Is(definition))
            throw new DocumentException("A port or a bundle cannot be a realisation of a slot.");
        if (DefinitionReference.Parse(type) is { IsOwn: true, Key: var own })
        {
            if (level.Document.NeededBy(own).Contains(slot.Id))
                throw new DocumentException($"'{slot.Part.Name}' is part of it; a slot cannot hold itself.");
            return level.Document.Definitions[own].Name;
        }

        return level.Catalog.Describe(type).Title;
    }
}

/// <summary>Takes a realisation out of a slot, with its wires.</summary>
public sealed record RemoveAlternative : SlotChange
{
    public required string Name { get; init; }

    internal override Restructured On(LevelAt level, SlotAt slot)
    {
        var gone = slot.Named(Name).Parts.ToHashSet();
        var left = slot.Names.Where(n => n != Name).ToList();
        if (left.Count == 0)
            throw new DocumentException($"'{Name}' is the only realisation of '{slot.Part.Name}'. Delete the part instead.");
        var present = Slots.NameIn(slot.Parameter.Value) == Name ? Slots.Words(left[0]) : slot.Parameter.Value;
        var diagram = slot.With(left, present);
        diagram = diagram with
        {
            Parts = diagram.Parts.Where(p => !gone.Contains(p.Key)).ToDictionary(),
            Wires = diagram.Wires.Where(w => !gone.Contains(w.Value.From.Part) && !gone.Contains(w.Value.To.Part)).ToDictionary(),
            Signals = diagram.Signals.Where(s => !gone.Contains(s.Key.Split('.')[0])).ToDictionary(),
        };
        var document = slot.Chosen(level.Document.With(slot.Id, diagram), text => Slots.NameIn(text) == Name ? null : text);
        return new Restructured($"Remove the alternative {Name}", document, [Part]);
    }
}

/// <summary>Gives a realisation another name, in all that chooses it by the old one.</summary>
public sealed record RenameAlternative : SlotChange
{
    public required string Name { get; init; }

    public required string To { get; init; }

    internal override Restructured On(LevelAt level, SlotAt slot)
    {
        var (renamed, to) = (slot.Named(Name), To.Trim());
        if (to.Length == 0)
            throw new DocumentException("An alternative needs a name.");
        if (slot.Names.Contains(to) || slot.Diagram.Parts.Any(p => p.Value.Name == to && !renamed.Parts.Contains(p.Key)))
            throw new DocumentException($"The name '{DocumentLimits.Short(to)}' is taken in '{slot.Part.Name}'.");
        string Now(string text) => text.Replace(Slots.Words(Name), Slots.Words(to), StringComparison.Ordinal);
        var diagram = slot.With(slot.Names.Select(n => n == Name ? to : n), Now(slot.Parameter.Value));
        diagram = diagram with
        {
            Parts = diagram.Parts.ToDictionary(
                p => p.Key,
                p =>
                    p.Value.OnlyWhen is { } condition
                        ? p.Value with
                        {
                            OnlyWhen = Now(condition),
                            Name = p.Value.Name == Name ? to : p.Value.Name,
                        }
                        : p.Value
            ),
        };
        return new Restructured($"Rename the alternative {Name}", slot.Chosen(level.Document.With(slot.Id, diagram), Now), [Part]);
    }
}

/// <summary>Makes a plain subsystem of a slot, with one of its realisations.</summary>
public sealed record KeepAlternative : SlotChange
{
    public required string Name { get; init; }

    internal override Restructured On(LevelAt level, SlotAt slot)
    {
        var kept = slot.Named(Name).Parts.ToHashSet();
        var gone = Slots.Of(slot.Diagram).SelectMany(a => a.Parts).Where(p => !kept.Contains(p)).ToHashSet();
        var alone = Slots.Condition(slot.Chooser, Name);
        var diagram = slot.Diagram with
        {
            Slot = null,
            Parameters = slot.Diagram.Parameters.Where(p => p.Key != slot.Chooser).ToDictionary(),
            Parts = slot
                .Diagram.Parts.Where(p => !gone.Contains(p.Key))
                .ToDictionary(p => p.Key, p => p.Value.OnlyWhen == alone ? p.Value with { OnlyWhen = null } : p.Value),
            Wires = slot.Diagram.Wires.Where(w => !gone.Contains(w.Value.From.Part) && !gone.Contains(w.Value.To.Part)).ToDictionary(),
            Signals = slot.Diagram.Signals.Where(s => !gone.Contains(s.Key.Split('.')[0])).ToDictionary(),
        };
        if (diagram.Parts.Values.Any(p => p.Texts.Any(t => ParameterUses.Names(t.Text).Contains(slot.Chooser))))
            throw new DocumentException($"Fields on the level of '{slot.Part.Name}' speak of '{slot.Chooser}'; change them first.");
        return new Restructured($"Keep {Name} alone", slot.Chosen(level.Document.With(slot.Id, diagram), _ => null), [Part]);
    }
}
