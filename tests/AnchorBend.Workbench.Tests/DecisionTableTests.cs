using AnchorBend.Modeling.Tables;
using AnchorBend.Modeling.Written;
using static AnchorBend.Workbench.Tests.ChartParts;
using static AnchorBend.Workbench.Tests.TableParts;

namespace AnchorBend.Workbench.Tests;

/// <summary>Decision tables: which rule applies, what is missing and what overlaps.</summary>
public class DecisionTableTests
{
    static readonly NameNode Level = Name("level", NameKind.Input, "Real") with { Unit = "m" };
    static readonly NameNode Mode = Name("mode", NameKind.Input, "{ebb, flood, storm}");
    static readonly NameNode Closed = Name("closed", NameKind.Input, "Boolean");
    static readonly NameNode Y = Name("y", NameKind.Output, "Real", "-1");

    /// <summary>The value of a table for one set of inputs.</summary>
    static double Decided(DecisionTable table, params (string Name, string Type, string Value)[] inputs) =>
        new Ran(Fed(table, inputs), 1).At(0.5, "y");

    [Theory]
    [InlineData("> 2", "3", true)]
    [InlineData("> 2", "2", false)]
    [InlineData(">= 2 m", "2", true)]
    [InlineData("≤ 200 cm", "2", true)]
    [InlineData("< 2", "3", false)]
    [InlineData("1 .. 3", "3", true)]
    [InlineData("1 m .. 300 cm", "3.1", false)]
    [InlineData("any", "7", true)]
    [InlineData("", "7", true)]
    public void A_cell_asks_something_of_a_quantity(string cell, string level, bool holds) =>
        Assert.Equal(holds ? 1 : -1, Decided(Decisions(["level"], [$"{cell} | 1"], Level, Y), ("level", "Real", level)));

    [Theory]
    [InlineData("flood", 2, true)]
    [InlineData("= flood", 1, false)]
    [InlineData("≠ flood", 1, true)]
    [InlineData("ebb, storm", 3, true)]
    [InlineData("ebb, storm", 2, false)]
    public void A_cell_asks_for_words(string cell, int mode, bool holds) =>
        Assert.Equal(holds ? 1 : -1, Decided(Decisions(["mode"], [$"{cell} | 1"], Mode, Y), ("mode", "Integer", $"{mode}")));

    [Theory]
    [InlineData("yes", "true", true)]
    [InlineData("no", "true", false)]
    [InlineData("no", "false", true)]
    public void A_cell_asks_whether_a_condition_holds(string cell, string closed, bool holds) =>
        Assert.Equal(holds ? 1 : -1, Decided(Decisions(["closed"], [$"{cell} | 1"], Closed, Y), ("closed", "Boolean", closed)));

    [Fact]
    public void The_first_rule_that_holds_applies_and_says_so()
    {
        var table = Decisions(["level", "closed"], ["> 2 | yes | 1", "> 1 | any | 2 * level", "any | no | 3"], Level, Closed, Y);
        var ran = new Ran(Fed(table, ("level", "Real", "time"), ("closed", "Boolean", "time > 4")), 5);
        Assert.Equal((3, 1), (ran.At(0.5, "y"), ran.At(0.5, "rule 3")));
        Assert.Equal((2 * 1.5, 1), (Math.Round(ran.At(1.5, "y"), 9), ran.At(1.5, "rule 2")));
        Assert.Equal((1, 1, 0), (ran.At(4.5, "y"), ran.At(4.5, "rule 1"), ran.At(4.5, "rule 2")));
    }

    [Fact]
    public void An_output_without_a_value_in_the_rule_takes_the_one_of_otherwise()
    {
        var second = Name("z", NameKind.Output, "Real", "7 * 1");
        var ran = new Ran(Fed(Decisions(["level"], ["> 2 | 1 |"], Level, Y, second), ("level", "Real", "time")), 4);
        Assert.Equal((-1, 7), (ran.At(1, "y"), ran.At(1, "z")));
        Assert.Equal((1, 7), (ran.At(3, "y"), ran.At(3, "z")));
    }

    static List<string> Told(DecisionTable table) => [.. table.Review().Select(f => $"{f.Code["decision-".Length..]}: {f.Message}")];

    [Fact]
    public void A_complete_table_without_overlaps_is_told_nothing_of() =>
        Assert.Empty(Told(Decisions(["level", "mode"], ["> 2 | any | 1", "≤ 2 | ebb, storm | 2", "≤ 2 | flood | 3"], Level, Mode, Y)));

    [Fact]
    public void What_no_rule_covers_is_told_with_an_example()
    {
        var found = Told(
            Decisions(["level", "mode", "closed"], ["> 2 | any | any | 1", "any | ebb, flood | yes | 2"], Level, Mode, Closed, Y)
        );
        Assert.Contains(found, f =>
            f == "missing: No rule applies where level ≤ 2 m and mode = storm; the outputs take the values of 'otherwise' there."
        );
    }

    [Fact]
    public void A_rule_that_others_cover_together_is_never_asked()
    {
        var table = Decisions(
            ["level", "mode"],
            ["> 2 | any | 1", "≤ 2 | ebb | 2", "≤ 2 | flood, storm | 3", "any | storm | 4"],
            Level,
            Mode,
            Y
        );
        Assert.Equal(
            ["hidden: Rule 4 never applies: the rules before it cover all that it asks for."],
            Told(table).Where(f => !f.StartsWith("overlap", StringComparison.Ordinal))
        );
    }

    [Fact]
    public void Rules_that_can_hold_at_once_are_told_where_they_say_different_things()
    {
        Assert.Contains(
            "overlap: Rules 1 and 2 can hold at once and say different things: rule 1 goes first.",
            Told(Decisions(["level", "closed"], ["> 2 | any | 1", "any | yes | 2"], Level, Closed, Y))
        );
        Assert.DoesNotContain(Told(Decisions(["level", "closed"], ["> 2 | any | 1", "any | yes | 1"], Level, Closed, Y)), f =>
            f.StartsWith("overlap", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void Cells_that_exclude_each_other_are_told() =>
        Assert.Contains(
            "never: Rule 1 can never apply: its cells exclude each other.",
            Told(Decisions(["level", "level"], ["> 2 | < 1 | 1"], Level, Y))
        );

    /// <summary>What a review says is missing or hidden is what trying all inputs says.</summary>
    [Fact]
    public void Random_tables_are_reviewed_as_trying_all_their_inputs_says()
    {
        var random = new Random(7);
        string[] levels = ["any", "> 2", "≤ 2", "1 .. 3", "< 1"];
        string[] modes = ["any", "ebb", "ebb, flood", "≠ storm", "storm"];
        string[] flags = ["any", "yes", "no"];
        Func<double, bool>[] level = [_ => true, x => x > 2, x => x <= 2, x => x is >= 1 and <= 3, x => x < 1];
        Func<int, bool>[] mode = [_ => true, m => m == 1, m => m <= 2, m => m != 3, m => m == 3];
        Func<bool, bool>[] flag = [_ => true, b => b, b => !b];
        var inputs = (
            from x in (double[])[0.5, 1, 1.5, 2, 2.5, 3, 3.5]
            from m in (int[])[1, 2, 3]
            from b in (bool[])[false, true]
            select (x, m, b)
        ).ToList();
        for (var trial = 0; trial < 300; trial++)
        {
            var rules = Enumerable
                .Range(0, random.Next(1, 7))
                .Select(_ => (L: random.Next(5), M: random.Next(5), F: random.Next(3)))
                .ToList();
            var table = Decisions(
                ["level", "mode", "closed"],
                [.. rules.Select((r, i) => $"{levels[r.L]} | {modes[r.M]} | {flags[r.F]} | {i}")],
                Level,
                Mode,
                Closed,
                Y
            );
            var applied = inputs.Select(i => rules.FindIndex(r => level[r.L](i.x) && mode[r.M](i.m) && flag[r.F](i.b))).ToHashSet();
            var found = table.Review();
            Assert.Equal(applied.Contains(-1), found.Any(f => f.Code == "decision-missing"));
            for (var r = 0; r < rules.Count; r++)
                Assert.Equal(
                    !applied.Contains(r),
                    found.Any(f => f.Item == $"r{r + 1}" && f.Code is "decision-hidden" or "decision-never" && f.Item == $"r{r + 1}")
                );
        }
    }

    [Fact]
    public void What_cannot_be_read_is_told_with_its_rule_and_column()
    {
        var document = Fed(Decisions(["level"], ["> | 1"], Level, Y), ("level", "Real", "1"));
        var prepared = Compiler.Preparation.DocumentPreparation.Prepare(document, Modeling.Catalog.PartCatalog.Of(document));
        Assert.Contains(prepared.Findings, f => f.Message.StartsWith("Table under test: Rule 1, level:", StringComparison.Ordinal));
    }
}
