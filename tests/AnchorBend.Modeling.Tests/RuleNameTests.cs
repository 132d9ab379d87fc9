using AnchorBend.Language.Rules;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Tests;

/// <summary>Signals in rules: found, followed when they get other names, missed when they go.</summary>
public class RuleNameTests
{
    static DiagramDefinition Diagram(string partName) =>
        new()
        {
            Name = "Gate",
            Parts = new()
            {
                ["s"] = new PartNode { Type = "Step", Name = "Inflow" },
                ["l"] = new PartNode { Type = "Lag", Name = partName },
            },
            Wires = new()
            {
                ["w"] = new WireNode { From = new PortReference("s", "y"), To = new PortReference("l", "u") },
            },
            Signals = new() { ["s.y"] = new SignalNode { Name = "plan" } },
        };

    static ModelDocument Model(string rule, string partName = "Basin") =>
        new()
        {
            Definitions = new() { [ModelDocument.MainId] = Diagram(partName) },
            Requirements = new()
            {
                ["r"] = new RequirementNode
                {
                    Name = "Follows",
                    Signal = "",
                    Rule = rule,
                },
            },
        };

    [Fact]
    public void Names_stand_where_they_were_typed()
    {
        const string text = "whenever Basin.y becomes 2 then within T1 (plan stays below 'my basin'.y for at least 2 s)";
        var names = RuleParser.NamesIn(text);
        Assert.Equal(["Basin.y", "plan", "'my basin'.y"], names.Select(n => text.Substring(n.Start, n.Length)));
    }

    [Theory]
    [InlineData("whenever plan > 1 then within 2 s Basin.y > 0.5", "whenever plan > 1 then within 2 s 'Old basin'.y > 0.5")]
    [InlineData("always (Basin.y stays below 2 or plan == 0)", "always ('Old basin'.y stays below 2 or plan == 0)")]
    [InlineData("always (what is this", "always (what is this")]
    public void A_rule_follows_the_name_of_a_part(string before, string after)
    {
        var (old, now) = (Model(before), Model(before, "Old basin"));
        Assert.Equal(after, MeasureNames.Followed(old, now, identity => identity).Requirements["r"].Rule);
    }

    [Theory]
    [InlineData("always Basin.y < 3", null)]
    [InlineData("always Bassin.y < 3", "there is no signal 'Bassin.y'")]
    [InlineData("always", "Wanted a condition")]
    public void A_rule_that_cannot_be_judged_is_a_finding(string rule, string? told)
    {
        var findings = DocumentElaboration
            .Elaborate(Model(rule), PartCatalog.Standard)
            .Findings.Where(f => f.Message.Contains("rule", StringComparison.Ordinal));
        if (told is null)
            Assert.Empty(findings);
        else
            Assert.Contains(told, Assert.Single(findings).Message, StringComparison.Ordinal);
    }
}
