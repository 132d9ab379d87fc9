using System.Xml.Linq;

namespace AnchorBend.Modeling.Tests;

public class LayerTests
{
    /// <summary>The layers of docs/architecture.md, lowest first.</summary>
    static readonly string[] Layers =
    [
        "AnchorBend.Numerics",
        "AnchorBend.Media",
        "AnchorBend.Language",
        "AnchorBend.Library",
        "AnchorBend.Modeling",
        "AnchorBend.Compiler",
        "AnchorBend.Simulation",
        "AnchorBend.Design",
        "AnchorBend.Verification",
        "AnchorBend.Delivery",
        "AnchorBend.Exploration",
        "AnchorBend.Interchange",
        "AnchorBend.Workbench",
        "AnchorBend.Server",
        "AnchorBend.Cli",
    ];

    static string Root()
    {
        var folder = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(folder, "AnchorBend.slnx")))
            folder = Path.GetDirectoryName(folder)!;
        return folder;
    }

    [Fact]
    public void A_layer_uses_only_those_below_it()
    {
        foreach (var project in Directory.GetFiles(Path.Combine(Root(), "src"), "*.csproj", SearchOption.AllDirectories))
        {
            var name = Path.GetFileNameWithoutExtension(project);
            var level = Array.IndexOf(Layers, name);
            Assert.True(level >= 0, $"{name} is not in the list of layers");
            foreach (var reference in XDocument.Load(project).Descendants("ProjectReference"))
            {
                var used = Path.GetFileNameWithoutExtension(reference.Attribute("Include")!.Value);
                Assert.True(Array.IndexOf(Layers, used) < level, $"{name} must not use {used}");
                Assert.False(name == "AnchorBend.Cli" && used == "AnchorBend.Server", "the command line works without the web server");
            }
        }
    }

    /// <summary>The formatter breaks code, but neither texts nor comments.</summary>
    [Fact]
    public void No_line_is_longer_than_140_characters()
    {
        var separator = Path.DirectorySeparatorChar;
        var tooLong =
            from file in Directory.GetFiles(Path.Combine(Root(), "src"), "*.cs", SearchOption.AllDirectories)
            where !file.Split(separator).Any(step => step is "obj" or "bin")
            from line in File.ReadAllLines(file).Index()
            where line.Item.Length > 140
            select $"{Path.GetFileName(file)}, line {line.Index + 1}";
        Assert.Empty(tooLong);
    }

    [Theory]
    [InlineData("AnchorBend.Numerics", "AnchorBend.")]
    [InlineData("AnchorBend.Language", "AnchorBend.")]
    public void The_lowest_layers_know_nothing_of_others(string name, string forbidden) =>
        Assert.DoesNotContain(XDocument.Load(Path.Combine(Root(), "src", name, name + ".csproj")).Descendants("ProjectReference"), r =>
            r.Attribute("Include")!.Value.Contains(forbidden, StringComparison.Ordinal)
        );
}
