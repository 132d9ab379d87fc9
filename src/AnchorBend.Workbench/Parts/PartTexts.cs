using AnchorBend.Compiler.Preparation;
using AnchorBend.Interchange;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using Microsoft.Extensions.Logging;

namespace AnchorBend.Workbench.Parts;

/// <summary>What was asked cannot be done; the message says why, the advice what to do.</summary>
public sealed class RefusedException(string message, string advice) : Exception(message)
{
    public string Advice { get; } = advice;
}

/// <summary>Texts of parts: read, check, and keep in the user's own package.</summary>
public sealed class PartTexts(
    OwnPackage package,
    OpenModels open,
    ComputeGate compute,
    INotifications notifications,
    ILogger<PartTexts> logger
)
{
    const int LongestText = DocumentLimits.LongestClass;

    /// <summary>What checking one text may take.</summary>
    static readonly TimeSpan MostReviewing = TimeSpan.FromSeconds(10);

    public static LanguageWords Words() =>
        new(
            [.. Lexer.ReservedWords.Order(StringComparer.Ordinal)],
            [.. Binder.Functions, .. PartCatalog.Standard.Names.Where(n => PartCatalog.Standard.Find(n)!.Kind == ClassKind.Function)],
            [
                "Real",
                "Integer",
                "Boolean",
                .. PartCatalog.Standard.Names.Where(n => PartCatalog.Standard.Find(n)!.Kind == ClassKind.Connector),
            ]
        );

    /// <param name="type">A definition of the model (<c>#id</c>) or the name of a part.</param>
    /// <exception cref="NotFoundException">There is no such part, or it has no text.</exception>
    public PartText Read(ModelSession session, string type, CancellationToken wanted)
    {
        var catalog = session.Catalog();
        if (catalog.TextOf(type) is not { } text)
            throw new NotFoundException($"There is no part '{type}'.");
        var reference = DefinitionReference.Parse(type);
        var own = reference.IsOwn ? session.Present().Document.Definitions[reference.Key] : null;
        var home =
            own is WrittenDefinition ? "form"
            : own is not null ? "model"
            : package.Contains(type) ? "package"
            : "catalog";
        return new PartText(own?.Name ?? type, text, home, Review(text, catalog, wanted));
    }

    public PartReviewView ReviewOf(ModelSession session, string text, CancellationToken wanted)
    {
        Within(text);
        return Review(text, session.Catalog(), wanted);
    }

    /// <summary>Keeps a part in the package, or a new text of one.</summary>
    /// <exception cref="RefusedException">It cannot stand there.</exception>
    public PartReviewView Keep(string name, string text, CancellationToken wanted)
    {
        Within(text);
        if (PartCatalog.Standard.Find(name) is not null)
            throw new RefusedException($"The catalog has a part '{name}' already.", "Give your part another name.");
        if (!Lexer.IsPlainIdentifier(name))
            throw new RefusedException($"'{name}' is no name for a part.", "Use letters, digits and underscores, beginning with a letter.");
        var review = Review(text, package.Catalog, wanted);
        if (review.Name != name)
            throw new RefusedException($"The text does not define '{name}'.", "Mend its errors first, and let its name agree.");
        package.Put(name, text);
        logger.LogInformation("The part {Part} was kept in the package.", name);
        Notify(name);
        return review;
    }

    /// <summary>Keeps a diagram of a model in the package, as a part that every model can use.</summary>
    /// <param name="name">The name of the part; null for the diagram's own, written as one word.</param>
    /// <param name="replaces">Whether a part of that name is to be replaced.</param>
    /// <returns>The name it has.</returns>
    /// <exception cref="RefusedException">It cannot stand there.</exception>
    /// <exception cref="DocumentException">It is not complete in itself.</exception>
    public string KeepDiagram(ModelSession session, string definition, string? name, bool replaces, CancellationToken wanted)
    {
        var document = session.Present().Document;
        if (document.Definitions.GetValueOrDefault(definition) is not DiagramDefinition diagram || definition == document.Root)
            throw new NotFoundException("There is no such subsystem in the model.");
        var kept = string.IsNullOrWhiteSpace(name) ? OneWord(diagram.Name) : name.Trim();
        if (package.Contains(kept) && !replaces)
            throw new RefusedException($"Your package has a part '{kept}' already.", "Give it another name, or replace that part.");
        var catalog = session.Catalog();
        foreach (var brought in document.NeededBy(definition).Select(id => document.Definitions[id]).OfType<TextDefinition>())
            if (package.Defining(brought.Name, brought.Text, kept) is { } holder)
                throw new RefusedException(
                    $"'{diagram.Name}' brings a part '{brought.Name}' along, and your package has another of that name, in '{holder}'.",
                    "Rename the part in this model, so that each is meant where it is named."
                );
        Keep(kept, compute.Run(MostReviewing, wanted, _ => TextExport.WritePart(document, definition, kept, catalog)), wanted);
        return kept;
    }

    /// <summary>A name as one word: each word begins with a capital, and what no name may have is left out.</summary>
    static string OneWord(string name)
    {
        var words = System
            .Text.RegularExpressions.Regex.Matches(name, "[A-Za-z0-9_]+")
            .Select(m => char.ToUpperInvariant(m.Value[0]) + m.Value[1..]);
        var word = string.Concat(words);
        return word.Length == 0 || char.IsDigit(word[0]) ? "Part" + word : word;
    }

    /// <summary>The diagrams that a part of the package was drawn as.</summary>
    /// <exception cref="NotFoundException">The package has no such part.</exception>
    /// <exception cref="DocumentException">It was written as a text.</exception>
    public PackagedDiagram Diagram(string name, CancellationToken wanted)
    {
        if (!package.Contains(name) || package.Catalog.TextOf(name) is not { } text)
            throw new NotFoundException($"The package has no part '{name}'.");
        var document = compute.Run(MostReviewing, wanted, _ => TextImport.ReadPart(text));
        return new PackagedDiagram(document.Root, document.Definitions);
    }

    /// <exception cref="NotFoundException">The package has no such part.</exception>
    public void Remove(string name)
    {
        if (!package.Remove(name))
            throw new NotFoundException($"The package has no part '{name}'.");
        logger.LogInformation("The part {Part} was taken out of the package.", name);
        Notify(name);
    }

    PartReviewView Review(string text, PartCatalog catalog, CancellationToken wanted) =>
        PartReviewView.Of(compute.Run(MostReviewing, wanted, _ => PartReview.Of(text, catalog)), catalog);

    /// <summary>Windows that show a model with the part take the new state and run again.</summary>
    void Notify(string name)
    {
        foreach (var session in open.Open)
            if (session.Present().Document.Definitions.Values.OfType<DiagramDefinition>().Any(d => d.Parts.Values.Any(p => p.Type == name)))
                notifications.PartsChanged(session.Id, name);
    }

    static void Within(string text)
    {
        if (text.Length > LongestText)
            throw new RefusedException($"The text has more than {LongestText} characters.", "Split the part.");
    }
}
