using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flattening;
using AnchorBend.Simulation;

namespace AnchorBend.Cli;

/// <summary>The command cannot go on; the message is for the user.</summary>
sealed class CommandException(string message) : Exception(message);

/// <summary>A model read from a file: a document (<c>.json</c>) or equation-language text (<c>.mo</c>).</summary>
sealed record ModelFile(ModelDocument? Document, ClassDefinition? Class, IClassSource Classes, IReadOnlyList<Finding> ParseFindings)
{
    /// <summary>Reads a file.</summary>
    /// <exception cref="CommandException">The file cannot be read or is of no known kind.</exception>
    public static ModelFile Read(FileInfo file)
    {
        string text;
        try
        {
            if (file.Length > 64 << 20)
                throw new CommandException($"{file.Name} is larger than 64 MiB.");
            text = File.ReadAllText(file.FullName);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new CommandException($"{file.FullName} cannot be read: {e.Message}");
        }

        if (file.Extension == ".mo")
        {
            var (classes, errors) = Parser.ParseFile(text);
            var last = classes.LastOrDefault(c => c.Kind is ClassKind.Model or ClassKind.Block or ClassKind.Class && !c.IsPartial);
            if (last is null && errors.Count == 0)
                throw new CommandException($"{file.Name} holds no model.");
            return new ModelFile(
                null,
                last,
                new ClassList(classes, PartCatalog.Standard),
                [.. errors.Select(e => new Finding(Severity.Error, e.Code, e.Message, "", null, e.At, e.Suggestion))]
            );
        }

        try
        {
            var document = ModelDocument.FromJson(text);
            return new ModelFile(document, null, PartCatalog.Of(document), []);
        }
        catch (DocumentException e)
        {
            throw new CommandException($"{file.Name}: {e.Message}");
        }
    }

    /// <summary>Elaborates, plans and compiles the model with parameter values set from outside.</summary>
    public PreparedModel Prepare(IReadOnlyDictionary<string, string>? set = null)
    {
        if (Document is not null)
            return DocumentPreparation.Prepare(Document, (PartCatalog)Classes, overrides: set);
        var overrides = new Dictionary<string, Expression>();
        foreach (var (path, text) in set ?? new Dictionary<string, string>())
        {
            try
            {
                overrides[path] = Parser.ParseField(text);
            }
            catch (LanguageException e)
            {
                throw new CommandException($"--set {path}: {e.Error.Message}");
            }
        }

        if (Class is null)
            return PreparedModel.Unreadable(ParseFindings);
        var (model, findings) = Flattener.Flatten(Class, Classes, overrides);
        return PreparedModel.Prepare(model, [.. ParseFindings, .. findings], SourceMap.Empty);
    }

    /// <summary>A model that can run.</summary>
    /// <exception cref="CommandException">The model has errors.</exception>
    public PreparedModel PrepareToRun(IReadOnlyDictionary<string, string>? set = null)
    {
        var prepared = Prepare(set);
        if (prepared.CanRun)
            return prepared;
        throw new CommandException(
            string.Join(Environment.NewLine, prepared.Findings.Where(f => f.Severity == Severity.Error).Select(FindingText.Print))
        );
    }
}

/// <summary>Findings as lines of text.</summary>
static class FindingText
{
    public static string Print(Finding f)
    {
        var where = f.Part + (f.Item is null ? "" : (f.Part.Length > 0 ? " ▸ " : "") + f.Item);
        var line = f.At.Line > 0 ? $"line {f.At.Line}, column {f.At.Column}: " : "";
        return $"{f.Severity.ToString().ToLowerInvariant()}: {line}{(where.Length > 0 ? where + ": " : "")}{f.Message}{(f.Suggestion is null ? "" : " " + f.Suggestion)}";
    }
}
