using System.Text.Json.Serialization;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>A document made anew, with the label of the edit and the parts that it is about.</summary>
/// <param name="Selection">Ids of parts of the level.</param>
public sealed record Restructured(string Label, ModelDocument Document, IReadOnlyList<string> Selection);

/// <summary>A change of a model's structure, asked for by what it means; which operations it takes is worked out here.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(MakeSubsystem), "makeSubsystem")]
[JsonDerivedType(typeof(Dissolve), "dissolve")]
[JsonDerivedType(typeof(MakeIndependent), "makeIndependent")]
[JsonDerivedType(typeof(LiftParameter), "liftParameter")]
[JsonDerivedType(typeof(RenameParameter), "renameParameter")]
[JsonDerivedType(typeof(RenamePart), "renamePart")]
[JsonDerivedType(typeof(ReplacePart), "replacePart")]
[JsonDerivedType(typeof(MovePort), "movePort")]
[JsonDerivedType(typeof(MakeSlot), "makeSlot")]
[JsonDerivedType(typeof(AddAlternative), "addAlternative")]
[JsonDerivedType(typeof(RemoveAlternative), "removeAlternative")]
[JsonDerivedType(typeof(RenameAlternative), "renameAlternative")]
[JsonDerivedType(typeof(KeepAlternative), "keepAlternative")]
[JsonDerivedType(typeof(RenameMember), "renameMember")]
[JsonDerivedType(typeof(DeclareBundle), "declareBundle")]
[JsonDerivedType(typeof(SetBundleType), "setBundleType")]
[JsonDerivedType(typeof(MoveToSheet), "moveToSheet")]
[JsonDerivedType(typeof(RenameSheetRow), "renameSheetRow")]
[JsonDerivedType(typeof(MakeChart), "makeChart")]
[JsonDerivedType(typeof(MakeDecisionTable), "makeDecisionTable")]
[JsonDerivedType(typeof(MakeValve), "makeValve")]
[JsonDerivedType(typeof(MakeSchedule), "makeSchedule")]
[JsonDerivedType(typeof(RenameName), "renameName")]
[JsonDerivedType(typeof(MoveState), "moveState")]
public abstract record Restructuring
{
    /// <summary>The level it happens on, by part ids from the root down; empty for the root.</summary>
    public string Level { get; init; } = "";

    /// <param name="catalog">The document's (<see cref="PartCatalog.Of"/>).</param>
    /// <exception cref="DocumentException">It cannot be done; the message says why.</exception>
    public virtual Restructured Of(ModelDocument document, PartCatalog catalog)
    {
        if (!PartPath.TryParse(Level, out var path) || document.Level(path) is not { } level)
            throw new DocumentException($"There is no level at '{DocumentLimits.Short(Level)}' in this model any more.");
        return On(new LevelAt(document, catalog, level.Id, level.Diagram));
    }

    internal abstract Restructured On(LevelAt level);
}

/// <summary>A level to be changed: its diagram with the model around it.</summary>
sealed record LevelAt(ModelDocument Document, PartCatalog Catalog, string Id, DiagramDefinition Diagram)
{
    /// <exception cref="DocumentException">There is no such part.</exception>
    public PartNode Part(string id) =>
        Diagram.Parts.GetValueOrDefault(id) ?? throw new DocumentException($"There is no part '{DocumentLimits.Short(id)}' on this level.");

    public ModelDocument With(DiagramDefinition diagram) => Document.With(Id, diagram);

    /// <summary>
    /// Names that fields of this level and of those below it speak of: a parameter or port that got one of them would be meant where
    /// another was, and nobody would be told.
    /// </summary>
    public HashSet<string> Spoken()
    {
        var names = new HashSet<string>();
        var seen = new HashSet<string> { Id };
        var open = new Stack<string>(seen);
        while (open.TryPop(out var at))
        {
            if (Document.Definitions.GetValueOrDefault(at) is not DiagramDefinition diagram)
                continue;
            names.UnionWith(ParameterUses.In(diagram));
            foreach (var part in diagram.Parts.Values)
                if (DefinitionReference.Parse(part.Type) is { IsOwn: true, Key: var below } && seen.Add(below))
                    open.Push(below);
        }

        return names;
    }

    public bool IsPort(PartNode part) => PortPart.KindOf(Catalog.Find(part.Type)) is not null;
}

/// <summary>Makes one part of several, with a diagram of its own.</summary>
public sealed record MakeSubsystem : Restructuring
{
    /// <summary>Ids of the parts; ports of the level stay where they are.</summary>
    public required IReadOnlyList<string> Parts { get; init; }

    public string? Name { get; init; }

    internal override Restructured On(LevelAt level) => new SubsystemMaking(level, Parts, Name).Make();
}

/// <summary>Puts what is inside a subsystem in its place.</summary>
public sealed record Dissolve : Restructuring
{
    public required string Part { get; init; }

    internal override Restructured On(LevelAt level) => new SubsystemDissolving(level, Part).Make();
}

/// <summary>Gives one use of a definition a definition of its own.</summary>
public sealed record MakeIndependent : Restructuring
{
    public required string Part { get; init; }

    internal override Restructured On(LevelAt level)
    {
        var part = level.Part(Part);
        var reference = DefinitionReference.Parse(part.Type);
        if (!reference.IsOwn || level.Document.Definitions.GetValueOrDefault(reference.Key) is not DiagramDefinition shared)
            throw new DocumentException($"'{part.Name}' is no subsystem of this model, so it has nothing to be independent of.");
        var id = NewIds.Definition(level.Document);
        var copy = shared with { Name = NewIds.DefinitionName(level.Document, shared.Name) };
        var diagram = level.Diagram with
        {
            Parts = level.Diagram.Parts.ToDictionary(
                p => p.Key,
                p => p.Key == Part ? p.Value with { Type = DefinitionReference.OfOwn(id) } : p.Value
            ),
        };
        return new Restructured($"Make {part.Name} independent", level.With(diagram).With(id, copy), [Part]);
    }
}
