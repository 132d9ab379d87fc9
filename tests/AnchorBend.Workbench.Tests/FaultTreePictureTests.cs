using System.Globalization;
using System.Text;
using System.Xml.Linq;
using AnchorBend.Interchange.Sheets;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.FaultTrees;

namespace AnchorBend.Workbench.Tests;

/// <summary>Fault trees as drawings and as tables.</summary>
public class FaultTreePictureTests
{
    static TreeEventNode Event(string name, string value) => new() { Name = name, Value = value };

    /// <summary>Two of three pumps fail, or both valves stick; a power cut stands below both.</summary>
    static FaultTreeNode Pumps() =>
        new()
        {
            Name = "No flow \u0001<at all>",
            Top = "t",
            Gates = new()
            {
                ["t"] = new TreeGateNode { Name = "No flow", Inputs = ["v", "s"] },
                ["v"] = new TreeGateNode
                {
                    Name = "Two pumps",
                    Kind = "vote",
                    Least = 2,
                    Inputs = ["a", "b", "p"],
                },
                ["s"] = new TreeGateNode
                {
                    Name = "Both valves",
                    Kind = "and",
                    Inputs = ["c", "p"],
                },
                ["p"] = new TreeGateNode { Name = "Power", Inputs = ["d"] },
            },
            Events = new()
            {
                ["a"] = Event("Pump A", "0.1"),
                ["b"] = Event("Pump B", "0.1"),
                ["c"] = Event("Valve", "0.2"),
                ["d"] = Event("Cut & fuse", "0.01"),
            },
        };

    static FaultTreeView View(FaultTreeNode tree) => FaultTreeView.Of(new DiagramDefinition { Name = "M" }.AsModel(), "tree", tree);

    static XElement Drawn(FaultTreeNode tree) => XElement.Parse(FaultTreePicture.Of(tree, View(tree)));

    static IEnumerable<XElement> All(XElement svg, string name) => svg.Descendants().Where(e => e.Name.LocalName == name);

    static double Number(XElement e, string name) => double.Parse(e.Attribute(name)!.Value, CultureInfo.InvariantCulture);

    [Fact]
    public void Gates_have_their_signs_and_events_their_circles()
    {
        var svg = Drawn(Pumps());
        List<string> texts = [.. All(svg, "text").Select(t => t.Value)];
        foreach (var sign in (string[])["≥ 1", "≥ 2", "&", "Pump A", "Valve", "0.2"])
            Assert.Contains(sign, texts);
        // What stands below two gates is drawn once and named again; a name with signs of markup stays text.
        Assert.Equal(["Power", "Power, as above"], texts.Where(t => t.StartsWith("Power", StringComparison.Ordinal)));
        Assert.Contains("Cut & fuse", texts);
        Assert.Equal("Fault tree No flow <at all>", svg.Attribute("aria-label")!.Value);
        Assert.Equal(4, All(svg, "circle").Count());
    }

    [Fact]
    public void Nothing_lies_on_anything_else_and_all_lies_within_the_drawing()
    {
        var svg = Drawn(Pumps());
        var (width, height) = (Number(svg, "width"), Number(svg, "height"));
        List<(double X, double Y, double Right, double Bottom)> boxes =
        [
            .. All(svg, "rect")
                .Select(r => (Number(r, "x"), Number(r, "y"), Number(r, "x") + Number(r, "width"), Number(r, "y") + Number(r, "height"))),
        ];
        Assert.All(boxes, b => Assert.True(b.X >= 0 && b.Y >= 0 && b.Right <= width && b.Bottom <= height));
        for (var i = 0; i < boxes.Count; i++)
        for (var k = 0; k < i; k++)
            Assert.True(
                boxes[i].Right <= boxes[k].X
                    || boxes[k].Right <= boxes[i].X
                    || boxes[i].Bottom <= boxes[k].Y
                    || boxes[k].Bottom <= boxes[i].Y
            );
    }

    [Fact]
    public void One_that_is_unfinished_is_drawn_and_one_without_end_is_refused()
    {
        var half = Pumps() with
        {
            Gates = new()
            {
                ["t"] = new TreeGateNode { Name = "No flow", Inputs = ["gone"] },
            },
        };
        Assert.Contains(All(Drawn(half), "text"), t => t.Value == "gone");
        // One that stands below itself is named there, and goes on no further.
        var round = Pumps();
        round.Gates["p"] = round.Gates["p"] with { Inputs = ["t"] };
        Assert.Contains(All(Drawn(round), "text"), t => t.Value == "No flow, as above");
        var wide = Pumps();
        wide.Gates["t"] = wide.Gates["t"] with { Inputs = [.. Enumerable.Repeat("a", 700)] };
        Assert.Contains(
            "600",
            Assert.Throws<DocumentException>(() => FaultTreePicture.Of(wide, View(wide))).Message,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_table_has_the_top_event_its_cut_sets_and_how_much_each_event_counts()
    {
        var tree = Pumps();
        var rows = SpreadsheetFile.Read(FaultTreeTable.Write(tree, View(tree), SpreadsheetForm.Text));
        Assert.Equal(
            ["top event", .. Enumerable.Repeat("cut set", 4), .. Enumerable.Repeat("event", 4)],
            rows.Skip(1).Select(r => $"{r[0]}")
        );
        Assert.Equal("Pump A and Pump B", $"{rows[2][1]}");
        // Two pumps: 0.1 · 0.1.
        Assert.Equal(0.01, Convert.ToDouble(rows[2][2], CultureInfo.InvariantCulture), 1e-12);
    }
}
