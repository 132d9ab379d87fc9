using System.Text.Json;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Interchange.Tests;

/// <summary>Charts in the open standard's form (W3C SCXML, 2015); the numbers of tests' names are its sections.</summary>
public class ChartXmlTests
{
    static ChartDefinition Read(string inside, string attributes = "") =>
        ChartXml.Read(
            $"""
            <scxml xmlns="http://www.w3.org/2005/07/scxml" xmlns:ab="urn:anchor-bend:chart" version="1.0" {attributes}>
            {inside}</scxml>
            """
        );

    public static TheoryData<string> Examples =>
        [.. Directory.GetFiles(Folder(), "*.json").Where(f => File.ReadAllText(f).Contains("\"chart\"", StringComparison.Ordinal))];

    static string Folder()
    {
        var at = AppContext.BaseDirectory;
        while (!Directory.Exists(Path.Combine(at, "examples")))
            at = Path.GetDirectoryName(at)!;
        return Path.Combine(at, "examples");
    }

    [Theory]
    [MemberData(nameof(Examples))]
    public void The_charts_of_examples_come_back_as_they_went_out(string file)
    {
        foreach (var chart in ModelDocument.FromJson(File.ReadAllText(file)).Definitions.Values.OfType<ChartDefinition>())
        {
            var text = ChartXml.Write(chart);
            var again = ChartXml.Read(text);
            Assert.Equal(text, ChartXml.Write(again));
            Assert.Equal(chart.Names.Values.Select(n => n.Name).Order(), again.Names.Values.Select(n => n.Name).Order());
            Assert.Equal(
                chart.Transitions.Values.Select(t => $"{t.Guard}|{t.Action}|{t.HeldFor}|{t.Every}").Order(),
                again.Transitions.Values.Select(t => $"{t.Guard}|{t.Action}|{t.HeldFor}|{t.Every}").Order()
            );
        }
    }

    [Fact]
    public void Section_3_3_and_3_5_states_stand_in_states_and_transitions_in_document_order()
    {
        var chart = Read(
            """
            <state id="a"><transition event="e" cond="x &gt; 1" target="b"/><transition target="c"/>
              <state id="b"/></state><state id="c"/>
            """
        );
        Assert.Equal(["a", "b", "c"], chart.States.Values.OrderBy(s => s.Order).Select(s => s.Name));
        Assert.Equal("s1", chart.States["s2"].Parent);
        Assert.Equal(("e", "x > 1", "s2", 1), Told(chart.Transitions["t1"]));
        Assert.Equal((null, null, "s3", 2), Told(chart.Transitions["t2"]));
    }

    static (string?, string?, string?, double) Told(ChartTransitionNode t) => (t.Event, t.Guard, t.To, t.Priority);

    [Theory]
    [InlineData("""<state id="a" initial="c"><state id="b"/><state id="c"/></state>""")]
    [InlineData("""<state id="a"><initial><transition target="c"/></initial><state id="b"/><state id="c"/></state>""")]
    public void Section_3_6_what_is_entered_first_is_said_in_two_ways(string inside) =>
        Assert.Equal("c", Read(inside) is var chart ? chart.States[chart.States["s1"].Initial!].Name : "");

    [Fact]
    public void Sections_3_4_3_7_and_3_10_regions_final_states_and_histories()
    {
        var chart = Read(
            """
            <parallel id="p"><state id="r"><final id="f"/></state><history id="h" type="deep"><transition target="r"/></history></parallel>
            """
        );
        Assert.Equal(
            [ChartStateKind.Parallel, ChartStateKind.State, ChartStateKind.Final, ChartStateKind.DeepHistory],
            chart.States.Values.OrderBy(s => s.Order).Select(s => s.Kind)
        );
        Assert.Equal("s2", chart.States["s4"].Initial);
    }

    [Fact]
    public void Sections_3_8_and_4_assignments_and_raised_events_are_statements()
    {
        var chart = Read(
            """
            <state id="a"><onentry><assign location="x" expr="1"/><raise event="told"/></onentry>
            <onexit><script>x := 2;</script></onexit></state>
            """
        );
        Assert.Equal(("x := 1;\ntold := true", "x := 2"), (chart.States["s1"].Entry, chart.States["s1"].Exit));
    }

    [Fact]
    public void Section_3_13_the_event_of_a_finished_state_is_done() =>
        Assert.Equal("done", Read("""<state id="a"><transition event="done.state.a" target="a"/></state>""").Transitions["t1"].Event);

    [Theory]
    [InlineData("""<state id="a"><invoke/></state>""", "invoke is not taken")]
    [InlineData("""<state id="a"><onentry><send event="x"/></onentry></state>""", "send is not taken")]
    [InlineData("""<state id="a"><transition target="a b"/></state><state id="b"/>""", "several targets")]
    [InlineData("""<state id="a"><transition target="z"/></state>""", "no state 'z'")]
    [InlineData("""<state id="a"><transition event="x.*" target="a"/></state>""", "stars are not taken")]
    [InlineData("""<state id="a"/><state id="a"/>""", "Two states have the id 'a'")]
    public void What_charts_here_do_not_have_is_refused_by_its_name(string inside, string message) =>
        Assert.Contains(message, Assert.Throws<DocumentException>(() => Read(inside)).Message, StringComparison.Ordinal);

    [Theory]
    [InlineData("")]
    [InlineData("<a/>")]
    [InlineData("<scxml")]
    [InlineData("<!DOCTYPE a [<!ENTITY b SYSTEM 'file:///etc/passwd'>]><a>&b;</a>")]
    public void What_is_no_such_document_is_refused(string text) => Assert.Throws<DocumentException>(() => ChartXml.Read(text));

    [Fact]
    public void Times_and_places_of_our_own_namespace_are_kept()
    {
        var chart = Read(
            """<state id="a" ab:x="12" ab:while="y := 1"><transition target="a" ab:after="2 s" ab:bends="1,2 3,4"/></state>""",
            "ab:period=\"0.2 s\""
        );
        Assert.Equal(("0.2 s", 12, "y := 1"), (chart.Period, chart.States["s1"].X, chart.States["s1"].While));
        Assert.Equal(("2 s", 2), (chart.Transitions["t1"].After, chart.Transitions["t1"].Bends.Count));
    }
}
