using AnchorBend.Compiler.Preparation;
using AnchorBend.Interchange;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flattening;

namespace AnchorBend.Workbench.Models;

/// <summary>A model as it was written down: a document, or text of the equation language whose last model is meant.</summary>
public sealed class ModelSource
{
    /// <summary>The longest text that is read.</summary>
    public const int LongestText = 64 << 20;

    readonly string text;
    readonly ClassDefinition? model;
    readonly IClassSource classes;
    readonly IReadOnlyList<Finding> parseFindings;

    ModelSource(string text, ModelDocument? document, ClassDefinition? model, IClassSource classes, IReadOnlyList<Finding> parseFindings) =>
        (this.text, Document, this.model, this.classes, this.parseFindings) = (text, document, model, classes, parseFindings);

    /// <summary>Null where the model is a text.</summary>
    public ModelDocument? Document { get; }

    /// <exception cref="DocumentException">It is no model document.</exception>
    public static ModelSource OfDocument(string json)
    {
        var document = ModelDocument.FromJson(json);
        return new ModelSource(json, document, null, PartCatalog.Of(document), []);
    }

    /// <param name="catalog">With which the document is put together.</param>
    public static ModelSource Of(ModelDocument document, PartCatalog catalog) => new("", document, null, catalog, []);

    /// <summary>The same model with a change of its document.</summary>
    /// <exception cref="DocumentException">It is a text, or the change is none.</exception>
    public ModelSource With(Func<ModelDocument, ModelDocument> change) =>
        Document is null
            ? throw new DocumentException("A text has no settings of runs; only parameters can be varied.")
            : new ModelSource(text, change(Document), model, classes, parseFindings);

    /// <summary>Syntax errors become findings of the prepared model.</summary>
    /// <exception cref="DocumentException">The text holds no model.</exception>
    public static ModelSource OfText(string text)
    {
        var (parsed, errors) = Parser.ParseFile(text);
        var last = parsed.LastOrDefault(c => c.Kind is ClassKind.Model or ClassKind.Block or ClassKind.Class && !c.IsPartial);
        if (last is null && errors.Count == 0)
            throw new DocumentException("The text holds no model.");
        var findings = errors.Select(e => new Finding(Severity.Error, e.Code, e.Message, "", null, e.At, e.Suggestion));
        return new ModelSource(text, null, last, new ClassList(parsed, PartCatalog.Standard), [.. findings]);
    }

    /// <summary>Elaborates, plans and compiles the model.</summary>
    /// <param name="set">Parameter values from outside by path, as they are typed.</param>
    /// <param name="earlier">The model with other values, whose code is used again where only values differ.</param>
    /// <exception cref="DocumentException">One of the values is no expression.</exception>
    public PreparedModel Prepare(IReadOnlyDictionary<string, string>? set = null, PreparedModel? earlier = null)
    {
        if (Document is not null)
            return DocumentPreparation.Prepare(Document, (PartCatalog)classes, earlier, set);
        if (model is null)
            return PreparedModel.Unreadable(parseFindings);
        var overrides = (set ?? new Dictionary<string, string>()).ToDictionary(s => s.Key, s => Value(s.Key, s.Value));
        var (flat, findings) = Flattener.Flatten(model, classes, overrides);
        return PreparedModel.Prepare(flat, [.. parseFindings, .. findings], SourceMap.Empty, earlier);
    }

    static Expression Value(string path, string text)
    {
        try
        {
            return Parser.ParseField(text);
        }
        catch (LanguageException e)
        {
            throw new DocumentException($"{path}: {e.Error.Message}");
        }
    }

    /// <summary>A document as text of the equation language, and such a text as a document.</summary>
    /// <exception cref="DocumentException">The text cannot be drawn.</exception>
    public string InOtherForm() =>
        Document is null ? TextImport.Read(text).ToJson(true) + "\n" : TextExport.Write(Document, (PartCatalog)classes);
}
