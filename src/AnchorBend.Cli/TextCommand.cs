using System.CommandLine;
using AnchorBend.Interchange;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend text</c>: a diagram as text, and a text as a diagram.</summary>
static class TextCommand
{
    public static Command Create()
    {
        var file = CommandParts.File();
        var output = new Option<FileInfo?>("--out") { Description = "File to write; standard output without it" };
        var command = new Command(
            "text",
            "Write a model document (.json) as text of the equation language, or such a text (.mo) as a model document"
        )
        {
            file,
            output,
        };
        command.SetAction(parsed =>
            CommandParts.Guarded(() =>
            {
                var given = parsed.GetValue(file)!;
                string result;
                try
                {
                    var text = File.ReadAllText(given.FullName);
                    if (given.Extension == ".mo")
                        result = TextImport.Read(text).ToJson(true) + "\n";
                    else
                    {
                        var document = ModelDocument.FromJson(text);
                        result = TextExport.Write(document, PartCatalog.Of(document));
                    }
                }
                catch (Exception e) when (e is DocumentException or IOException or UnauthorizedAccessException)
                {
                    throw new CommandException($"{given.Name}: {e.Message}");
                }

                if (parsed.GetValue(output) is { } target)
                    File.WriteAllText(target.FullName, result);
                else
                    Console.Write(result);
                return 0;
            })
        );
        return command;
    }
}
