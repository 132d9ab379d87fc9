using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Tests;

public class ModelSourceTests
{
    const string Tank = """
        model Tank "A tank that empties"
          parameter Real T(unit = "s") = 5;
          Real level(start = 2, fixed = true);
        equation
          T * der(level) = -level;
        end Tank;
        """;

    [Fact]
    public void A_text_is_prepared_with_values_set_from_outside()
    {
        var prepared = ModelSource.OfText(Tank).Prepare(new Dictionary<string, string> { ["T"] = "1 min" });
        Assert.True(prepared.CanRun);
        Assert.Equal(60, prepared.Model.ParameterValues()[prepared.Model.Find("T")!.Index]);
    }

    [Fact]
    public void The_last_model_of_a_text_is_meant()
    {
        var prepared = ModelSource.OfText(Tank + "\nmodel Two\n  Tank a;\n  Tank b;\nend Two;").Prepare();
        Assert.Equal("Two", prepared.Model.Name);
        Assert.NotNull(prepared.Model.Find("b.level"));
    }

    [Fact]
    public void Errors_of_a_text_are_findings_at_their_place()
    {
        var finding = Assert.Single(ModelSource.OfText("model M\n  Real x\nend M;").Prepare().Findings.Take(1));
        Assert.Equal(3, finding.At.Line);
    }

    [Fact]
    public void What_holds_no_model_is_refused()
    {
        Assert.Throws<DocumentException>(() => ModelSource.OfText("connector C\n  Real x;\nend C;"));
        Assert.Throws<DocumentException>(() => ModelSource.OfDocument("[1, 2]"));
        Assert.Throws<DocumentException>(() => ModelSource.OfText(Tank).Prepare(new Dictionary<string, string> { ["T"] = "1 +" }));
    }

    [Fact]
    public void A_document_becomes_text_and_the_text_the_document_again()
    {
        var document = new DiagramDefinition
        {
            Name = "M",
            Parts =
            {
                ["s"] = new PartNode { Type = "Step", Name = "Wish" },
            },
        }.AsModel();
        var text = ModelSource.OfDocument(document.ToJson(false)).InOtherForm();
        var again = ModelDocument.FromJson(ModelSource.OfText(text).InOtherForm());
        Assert.Equal("Wish", Assert.Single(again.Level(PartPath.Root)!.Value.Diagram.Parts).Value.Name);
    }
}
