using System.Runtime.CompilerServices;
using System.Text;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flattening;

namespace AnchorBend.Compiler.Tests;

/// <summary>
/// What every pass makes of small models, one for each thing that a pass is there for. A file of <c>Golden/</c> holds the model and what
/// each pass printed; a change shows as a difference of these files. <c>ANCHOR_BEND_GOLDEN=write</c> writes them anew, to be read before
/// they are committed.
/// </summary>
public class GoldenTests
{
    const string Mark = "--- ";

    static string Folder([CallerFilePath] string here = "") => Path.Combine(Path.GetDirectoryName(here)!, "Golden");

    public static TheoryData<string> Models() =>
        [.. Directory.GetFiles(Folder(), "*.txt").Select(f => Path.GetFileNameWithoutExtension(f)!)];

    static string Printed(string model)
    {
        var (classes, errors) = Parser.ParseFile(model);
        Assert.Empty(errors);
        var (flat, findings) = Flattener.Flatten(classes[^1], new ClassList(classes, PartCatalog.Standard));
        var log = new PassLog();
        PreparedModel.Prepare(flat, findings, SourceMap.Empty, null, log);
        var text = new StringBuilder(Mark + "model\n" + model.Trim() + "\n");
        var before = "";
        foreach (var (pass, printed) in log.Entries)
        {
            text.Append('\n').Append(Mark).Append(pass).Append('\n');
            // A pass that left everything as it was has nothing to show.
            text.Append(
                printed.Trim().Length == 0 ? "nothing\n"
                : printed == before ? "as before\n"
                : printed
            );
            before = printed;
        }

        return text.ToString();
    }

    [Theory]
    [MemberData(nameof(Models))]
    public void Every_pass_makes_what_it_made(string name)
    {
        var file = Path.Combine(Folder(), name + ".txt");
        var expected = File.ReadAllText(file);
        var model = expected.Split('\n' + Mark)[0][(Mark.Length + "model\n".Length)..];
        var printed = Printed(model);
        if (Environment.GetEnvironmentVariable("ANCHOR_BEND_GOLDEN") == "write")
            File.WriteAllText(file, printed);
        else
            Assert.Equal(expected, printed);
    }
}
