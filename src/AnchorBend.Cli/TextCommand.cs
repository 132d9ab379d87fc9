using System.CommandLine;
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
                    result = ModelFile.Read(given).InOtherForm();
                }
                catch (DocumentException e)
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
