using System.Text;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Interchange.Sheets;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Requirements;

namespace AnchorBend.Workbench.Tests;

/// <summary>Requirements go out as a table and come back.</summary>
public sealed class RequirementTableTests : IDisposable
{
    readonly Bench bench = new();

    public void Dispose() => bench.RunStore.Dispose();

    static ModelDocument Gate => Examples.All()["tide-gate"];

    static PreparedModel Prepared(ModelDocument document) => DocumentPreparation.Prepare(document, PartCatalog.Of(document));

    ModelDocument Read(ModelDocument document, string table)
    {
        var session = bench.Models.Session(bench.Create(document));
        bench.Edit(session.Id, [.. RequirementTable.Read(document, Prepared(document), Encoding.UTF8.GetBytes(table)).Operations]);
        return session.Document;
    }

    [Theory]
    [InlineData(SpreadsheetForm.Text)]
    [InlineData(SpreadsheetForm.Workbook)]
    public void All_of_them_come_back_as_they_went(SpreadsheetForm form)
    {
        var session = bench.Models.Session(bench.Create(Gate with { Requirements = [] }));
        var read = RequirementTable.Read(session.Document, Prepared(session.Document), RequirementTable.Write(Gate, form));
        bench.Edit(session.Id, [.. read.Operations]);
        var now = session.Document.Requirements.Values.ToDictionary(r => r.Name);
        Assert.Equal(12, now.Count);
        Assert.All(Gate.Requirements.Values, r => Assert.Equal(r, now[r.Name]));
        // What is there already is nothing to read.
        Assert.Throws<DocumentException>(() => RequirementTable.Read(Gate, Prepared(Gate), RequirementTable.Write(Gate, form)));
    }

    [Fact]
    public void A_row_changes_the_requirement_of_its_identifier_and_leaves_what_it_does_not_say()
    {
        var now = Read(Gate, "identifier;name;limit\nTG-7;Pressure of the supply;155 bar\n");
        var changed = Gate.Requirements["r2"] with { Name = "Pressure of the supply", Limit = "155 bar" };
        Assert.Equal(changed, now.Requirements["r2"]);
        Assert.Equal(12, now.Requirements.Count);
    }

    [Fact]
    public void A_row_that_meets_none_adds_one_whose_signal_follows_new_names()
    {
        var now = Read(Gate, "name;condition;signal;limit\nNot too low;lower limit;opening;0.12 m\n");
        var added = now.Requirements.Values.Single(r => r.Name == "Not too low");
        Assert.Equal((RequirementKind.LowerLimit, "pos.s", "0.12 m"), (added.Kind, added.Signal, added.Limit));
    }

    [Theory]
    [InlineData("", "first row")]
    [InlineData("a;b\n1;2", "called 'name'")]
    [InlineData("name;rule\nx;", "neither a rule nor a signal")]
    [InlineData("name;signal\nx;nowhere", "no signal 'nowhere'")]
    [InlineData("name;measure\nx;nothing", "no measure 'nothing'")]
    [InlineData("name;condition;signal\nx;wish;opening", "a condition is rule, upper limit")]
    [InlineData("name;priority;rule\nx;urgent;always opening > 0 m", "must, should or may")]
    public void What_is_no_table_of_requirements_is_told(string table, string told) =>
        Assert.Contains(
            told,
            Assert.Throws<DocumentException>(() => RequirementTable.Read(Gate, Prepared(Gate), Encoding.UTF8.GetBytes(table))).Message,
            StringComparison.Ordinal
        );
}
