using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Workbench.Parts;

/// <summary>A part's text and where it belongs: "catalog", "package" (the user's own), "model", or "form" for the class that one of the
/// model's charts or tables comes to.</summary>
/// <param name="Name">The class that the text defines.</param>
public sealed record PartText(string Name, string Text, string Home, PartReviewView Review);

/// <summary>What a part of the package was drawn as.</summary>
/// <param name="Root">Id of the part's own diagram among the definitions.</param>
public sealed record PackagedDiagram(string Root, IReadOnlyDictionary<string, Definition> Definitions);

/// <summary>Words of the equation language, for highlighting and completion.</summary>
/// <param name="Types">Names of the types and connectors a declaration can begin with.</param>
public sealed record LanguageWords(IReadOnlyList<string> Reserved, IReadOnlyList<string> Functions, IReadOnlyList<string> Types);

/// <summary>What is said of a part's text beside it.</summary>
public sealed record PartReviewView(
    string? Name,
    IReadOnlyList<TextFinding> Findings,
    int Equations,
    int Unknowns,
    CatalogPart? Description
)
{
    public static PartReviewView Of(PartReview review, PartCatalog catalog) =>
        new(
            review.Name,
            [
                .. review.Findings.Select(f => new TextFinding(
                    f.Severity.ToString().ToLowerInvariant(),
                    Math.Max(1, f.At.Line),
                    Math.Max(1, f.At.Column),
                    f.Message,
                    f.Suggestion
                )),
            ],
            review.Equations,
            review.Unknowns,
            review.Description is { } description ? CatalogPart.Of(description, catalog) : null
        );
}

public sealed record TextFinding(string Severity, int Line, int Column, string Message, string? Suggestion);
