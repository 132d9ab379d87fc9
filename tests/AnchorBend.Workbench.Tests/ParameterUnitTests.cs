using AnchorBend.Compiler.Preparation;
using AnchorBend.Interchange;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Tests;

/// <summary>A named parameter means its quantity, whatever unit it is declared in.</summary>
public class ParameterUnitTests
{
    static ModelDocument Mass(string field, params (string Name, string Value, string? Unit)[] parameters) =>
        new DiagramDefinition
        {
            Name = "M",
            Parameters = parameters.ToDictionary(p => p.Name, p => new ParameterNode { Value = p.Value, Unit = p.Unit }),
            Parts =
            {
                ["m"] = new PartNode
                {
                    Type = "Mass",
                    Name = "Cart",
                    Parameters = { ["s0"] = field },
                },
            },
        }.AsModel();

    static PreparedModel Prepared(ModelDocument document) => DocumentPreparation.Prepare(document, PartCatalog.Of(document));

    static double Value(PreparedModel prepared, string path) => prepared.Model.ParameterValues()[prepared.Model.Find(path)!.Index];

    [Theory]
    [InlineData("len", 0.03)]
    [InlineData("2*len", 0.06)]
    [InlineData("len + wide", 1.03)]
    [InlineData("if len > 0.02 then wide else 0", 1)]
    [InlineData("3", 3)]
    [InlineData("30 mm", 0.03)]
    public void A_field_gets_the_quantity(string field, double metres) =>
        Assert.Equal(metres, Value(Prepared(Mass(field, ("len", "30", "mm"), ("wide", "1", "m"))), "Cart.s0"), 12);

    [Fact]
    public void A_parameter_that_follows_from_another_is_in_its_own_unit()
    {
        var prepared = Prepared(
            Mass("0", ("len", "30", "mm"), ("twice", "2*len", "cm"), ("same", "len", "mm"), ("warm", "20", "degC"), ("k", "warm", "K"))
        );
        Assert.Equal(6, Value(prepared, "twice"), 12);
        Assert.Equal(30, Value(prepared, "same"), 12);
        Assert.Equal(293.15, Value(prepared, "k"), 9);
    }

    [Fact]
    public void A_face_in_another_unit_than_what_its_use_says_gets_the_quantity()
    {
        var inner = Mass("reach", ("reach", "1", "mm")).Main;
        var main = new DiagramDefinition
        {
            Name = "Outer",
            Parameters =
            {
                ["len"] = new ParameterNode { Value = "3", Unit = "cm" },
            },
            Parts =
            {
                ["a"] = new PartNode
                {
                    Type = "#box",
                    Name = "A",
                    Parameters = { ["reach"] = "len" },
                },
                ["b"] = new PartNode
                {
                    Type = "#box",
                    Name = "B",
                    Parameters = { ["reach"] = "40" },
                },
            },
        };
        var prepared = Prepared(main.AsModel().With("box", inner));
        Assert.Equal(30, Value(prepared, "A.reach"), 12);
        Assert.Equal(0.03, Value(prepared, "A.Cart.s0"), 12);
        Assert.Equal(0.04, Value(prepared, "B.Cart.s0"), 12);
    }

    [Fact]
    public void A_name_from_above_keeps_its_unit_on_the_way_down()
    {
        var inner = Mass("len").Main;
        var main = new DiagramDefinition
        {
            Name = "Outer",
            Parameters =
            {
                ["len"] = new ParameterNode { Value = "3", Unit = "cm" },
            },
            Parts =
            {
                ["a"] = new PartNode { Type = "#box", Name = "A" },
            },
        };
        Assert.Equal(0.03, Value(Prepared(main.AsModel().With("box", inner)), "A.Cart.s0"), 12);
    }

    [Fact]
    public void A_value_edited_alone_gives_what_the_model_made_anew_gives()
    {
        var prepared = Prepared(Mass("2*len", ("len", "30", "mm")));
        var quick = ValueChange.Apply(prepared, [("len", "50")])!;
        Assert.Equal(0.1, quick.Model.ParameterValues()[quick.Model.Find("Cart.s0")!.Index], 12);
    }

    [Fact]
    public void The_text_of_a_model_says_the_same_quantity_and_reads_back_as_it_was_typed()
    {
        var document = Mass("2*len", ("len", "30", "mm"), ("twice", "2*len", "cm"));
        var text = TextExport.Write(document, PartCatalog.Of(document));
        Assert.Equal(document.ToJson(true), TextImport.Read(text).ToJson(true));
        Assert.Equal(0.06, Value(Models.ModelSource.OfText(text).Prepare(), "Cart.s0"), 12);
    }
}
