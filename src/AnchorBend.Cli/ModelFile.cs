using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Code;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Cli;

/// <summary>The command cannot go on; the message is for the user.</summary>
sealed class CommandException(string message) : Exception(message);

/// <summary>Models in files: a document (<c>.json</c>) or equation-language text (<c>.mo</c>).</summary>
static class ModelFile
{
    /// <exception cref="CommandException">The file cannot be read or holds no model.</exception>
    public static ModelSource Read(FileInfo file)
    {
        try
        {
            if (file.Length > ModelSource.LongestText)
                throw new CommandException($"{file.Name} is larger than {ModelSource.LongestText >> 20} MiB.");
            var text = File.ReadAllText(file.FullName);
            if (file.Extension == ".mo")
                return ModelSource.OfText(text);
            var source = ModelSource.OfDocument(text);
            UnitFiles.Read(source.Document!, default);
            return source;
        }
        catch (DocumentException e)
        {
            throw new CommandException($"{file.Name}: {e.Message}");
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new CommandException($"{file.FullName} cannot be read: {e.Message}");
        }
    }

    /// <summary>A model that can run.</summary>
    /// <exception cref="CommandException">The model has errors.</exception>
    public static PreparedModel PrepareToRun(this ModelSource model, IReadOnlyDictionary<string, string> set)
    {
        var prepared = Prepared(model, set);
        if (prepared.CanRun)
            return prepared;
        throw new CommandException(
            string.Join(Environment.NewLine, prepared.Findings.Where(f => f.Severity == Severity.Error).Select(FindingText.Print))
        );
    }

    static PreparedModel Prepared(ModelSource model, IReadOnlyDictionary<string, string> set)
    {
        try
        {
            return model.Prepare(set);
        }
        catch (DocumentException e)
        {
            throw new CommandException($"--set {e.Message}");
        }
    }
}

/// <summary>Findings as lines of text.</summary>
static class FindingText
{
    public static string Print(Finding f)
    {
        var where = f.Part + (f.Item is null ? "" : (f.Part.Length > 0 ? " ▸ " : "") + f.Item);
        var line = f.At.Line > 0 ? $"line {f.At.Line}, column {f.At.Column}: " : "";
        return $"{f.Severity.ToString().ToLowerInvariant()}: "
            + $"{line}{(where.Length > 0 ? where + ": " : "")}{f.Message}{(f.Suggestion is null ? "" : " " + f.Suggestion)}";
    }
}
