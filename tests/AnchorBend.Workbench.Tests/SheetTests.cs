using System.Text;
using System.Text.Json.Nodes;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Interchange;
using AnchorBend.Interchange.Sheets;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Restructuring;
using AnchorBend.Workbench.Sheets;

namespace AnchorBend.Workbench.Tests;

/// <summary>Sheets of named values: what names mean, columns, spreadsheets and back.</summary>
public class SheetTests
{
    static PartNode Gain(string name, string k) =>
        new()
        {
            Type = "Gain",
            Name = name,
            Parameters = { ["k"] = k },
        };

    static RowNode Row(string name, string? unit, params (string Column, string Text)[] values) =>
        new()
        {
            Name = name,
            Unit = unit,
            Values = values.ToDictionary(v => v.Column, v => v.Text),
        };

    /// <summary>Two gains, one of them inside a level, that speak of a sheet with two suppliers.</summary>
    static ModelDocument Drive()
    {
        var inner = new DiagramDefinition { Name = "Stage", Parts = { ["g"] = Gain("Inner", "2*ratio") } };
        var main = new DiagramDefinition
        {
            Name = "Drive",
            Parts =
            {
                ["a"] = Gain("First", "J1"),
                ["b"] = new PartNode { Type = "#stage", Name = "Box" },
                ["i"] = new PartNode
                {
                    Type = "Inertia",
                    Name = "Rotor",
                    Parameters = { ["J"] = "J1" },
                },
            },
        };
        return main.AsModel().With("stage", inner) with
        {
            Sheets = new()
            {
                ["s"] = new SheetNode
                {
                    Name = "Suppliers",
                    Chooser = "supplier",
                    Active = "\"North\"",
                    Columns =
                    {
                        ["n"] = new ColumnNode { Name = "North" },
                        ["o"] = new ColumnNode { Name = "South" },
                    },
                    Rows =
                    {
                        ["r1"] = Row("J1", "kg.m2", ("n", "0.4"), ("o", "300 kg.cm2")),
                        ["r2"] = Row("ratio", null, ("n", "3"), ("o", "J_unused/5")),
                        ["r3"] = Row("J_unused", null, ("n", "20")),
                        ["r4"] = Row("never", "s", ("n", "1 s")),
                    },
                },
            },
        };
    }

    static PreparedModel Prepared(ModelDocument document, params (string Path, string Text)[] set) =>
        DocumentPreparation.Prepare(document, PartCatalog.Of(document), overrides: set.ToDictionary(s => s.Path, s => s.Text));

    static double Value(PreparedModel prepared, string path) => prepared.Model.ParameterValues()[prepared.Model.Find(path)!.Index];

    static ModelDocument Made(ModelDocument document, Restructuring change)
    {
        var made = change.Of(document, PartCatalog.Of(document));
        var editable = Editable(document);
        editable.Apply(DocumentDifference.Between(document, made.Document));
        Assert.True(JsonNode.DeepEquals(JsonNode.Parse(made.Document.ToJson()), JsonNode.Parse(editable.Document.ToJson())));
        return editable.Document;
    }

    static EditableDocument Editable(ModelDocument document) => new((JsonObject)JsonNode.Parse(document.ToJson())!);

    [Theory]
    [InlineData("North", 0.4, 6)]
    [InlineData("South", 0.03, 8)]
    public void The_active_column_gives_the_values_of_every_level(string column, double first, double inner)
    {
        // 300 kg·cm² are 0.03 kg·m²; the row that South computes from has no value there and takes that of the first column: 2·20/5.
        var prepared = Prepared(Drive(), ("supplier", column));
        Assert.DoesNotContain(prepared.Findings, f => f.Severity == Severity.Error);
        Assert.Equal(first, Value(prepared, "First.k"), 12);
        Assert.Equal(first, Value(prepared, "Rotor.J"), 12);
        Assert.Equal(inner, Value(prepared, "Box.Inner.k"), 12);
        Assert.Null(prepared.Model.Find("never"));
    }

    [Fact]
    public void A_parameter_of_a_level_is_meant_before_a_sheet()
    {
        var document = Drive();
        var stage = (DiagramDefinition)document.Definitions["stage"];
        document = document.With("stage", stage with { Parameters = new() { ["ratio"] = new ParameterNode { Value = "7" } } });
        Assert.Equal(14, Value(Prepared(document), "Box.Inner.k"), 12);
    }

    [Fact]
    public void A_value_in_a_unit_of_another_kind_is_told_with_its_sheet_and_row()
    {
        var editable = Editable(Drive());
        editable.Apply([new PatchOperation("add", "/sheets/s/rows/r1/values/o", "5 s")]);
        var finding = Assert.Single(Prepared(editable.Document).Findings, f => f.Severity == Severity.Error);
        Assert.Equal("unit", finding.Code);
        Assert.StartsWith("Suppliers ▸ J1:", finding.Message);
    }

    [Fact]
    public void A_column_that_is_not_there_and_a_name_that_stands_twice_are_findings()
    {
        var editable = Editable(Drive());
        editable.Apply([
            new PatchOperation("add", "/sheets/s/active", "\"Nort\""),
            new PatchOperation("add", "/sheets/s/rows/r4/name", "ratio"),
        ]);
        var findings = Prepared(editable.Document).Findings;
        Assert.Equal("Did you mean North?", Assert.Single(findings, f => f.Code == "no-column").Suggestion);
        Assert.Contains("Suppliers twice", Assert.Single(findings, f => f.Code == "duplicate-name").Message);
    }

    [Fact]
    public void A_name_that_is_none_is_refused()
    {
        var editable = Editable(Drive());
        Assert.Throws<DocumentException>(() => editable.Apply([new PatchOperation("add", "/sheets/s/rows/r1/name", "a b")]));
        Assert.Equal("J1", editable.Document.Sheets["s"].Rows["r1"].Name);
    }

    [Fact]
    public void The_same_parameter_of_several_parts_moves_to_a_new_sheet_with_proposed_names()
    {
        var main = new DiagramDefinition
        {
            Name = "Line",
            Parts =
            {
                ["a"] = new PartNode
                {
                    Type = "Inertia",
                    Name = "Rotor 1",
                    Parameters = { ["J"] = "0.2 kg.m2" },
                },
                ["b"] = new PartNode
                {
                    Type = "Inertia",
                    Name = "Rotor 2",
                    Parameters = { ["J"] = "0.3" },
                },
            },
        };
        var document = Made(
            main.AsModel(),
            new MoveToSheet
            {
                Parts = ["a", "b"],
                Parameter = "J",
                Name = "Masses",
            }
        );
        var sheet = Assert.Single(document.Sheets.Values);
        Assert.Equal("Masses", sheet.Name);
        Assert.Equal(["Rotor_1_J", "Rotor_2_J"], sheet.Rows.Values.Select(r => r.Name));
        Assert.All(sheet.Rows.Values, r => Assert.Equal("kg.m2", r.Unit));
        Assert.Equal("Rotor_2_J", document.Main.Parts["b"].Parameters["J"]);
        Assert.Equal(0.2, Value(Prepared(document), "Rotor 1.J"), 12);
    }

    [Fact]
    public void All_plain_values_of_a_selection_move_and_expressions_stay()
    {
        var document = Drive();
        var main = document.Main;
        document = document.WithMain(main with { Parts = new(main.Parts) { ["c"] = Gain("Last", "-4.5") } });
        var moved = Made(document, new MoveToSheet { Sheet = "s", Parts = ["a", "c"] });
        Assert.Equal("J1", moved.Main.Parts["a"].Parameters["k"]);
        Assert.Equal("Last_k", moved.Main.Parts["c"].Parameters["k"]);
        Assert.Equal(-4.5, Value(Prepared(moved, ("supplier", "South")), "Last.k"), 12);
        Assert.Throws<DocumentException>(() => Made(document, new MoveToSheet { Sheet = "s", Parts = ["a"] }));
    }

    [Fact]
    public void Parameters_of_the_model_move_with_their_names()
    {
        var document = Drive();
        document = document.WithMain(document.Main with { Parameters = new() { ["length"] = new ParameterNode { Value = "2 m" } } });
        var moved = Made(document, new MoveToSheet { Sheet = "s", Parameters = ["length"] });
        Assert.Empty(moved.Main.Parameters);
        Assert.Contains(moved.Sheets["s"].Rows.Values, r => r.Name == "length");
    }

    [Fact]
    public void Renaming_a_row_is_followed_on_every_level_and_in_the_sheet()
    {
        var renamed = Made(
            Drive(),
            new RenameSheetRow
            {
                Sheet = "s",
                Row = "r2",
                To = "i_gear",
            }
        );
        Assert.Equal("2*i_gear", ((DiagramDefinition)renamed.Definitions["stage"]).Parts["g"].Parameters["k"]);
        renamed = Made(
            renamed,
            new RenameSheetRow
            {
                Sheet = "s",
                Row = "r3",
                To = "base",
            }
        );
        Assert.Equal("base/5", renamed.Sheets["s"].Rows["r2"].Values["o"]);
        Assert.Throws<DocumentException>(() =>
            Made(
                renamed,
                new RenameSheetRow
                {
                    Sheet = "s",
                    Row = "r1",
                    To = "i_gear",
                }
            )
        );
    }

    [Fact]
    public void Sheets_come_back_from_the_text_of_the_model()
    {
        var document = Drive();
        var text = TextExport.Write(document, PartCatalog.Of(document));
        var read = TextImport.Read(text);
        Assert.Equal(document.ToJson(true), read.ToJson(true));
        Assert.Equal(text, TextExport.Write(read, PartCatalog.Of(read)));
        var prepared = Models.ModelSource.OfText(text).Prepare(new Dictionary<string, string> { ["supplier"] = "\"South\"" });
        Assert.Equal(0.03, Value(prepared, "First.k"), 12);
    }

    [Theory]
    [InlineData(SpreadsheetForm.Workbook)]
    [InlineData(SpreadsheetForm.Text)]
    public void A_sheet_that_comes_back_from_a_spreadsheet_unchanged_changes_nothing(SpreadsheetForm form)
    {
        var sheet = Drive().Sheets["s"];
        var rows = new Dictionary<string, RowNode>(sheet.Rows)
        {
            ["r1"] = sheet.Rows["r1"] with { Description = "=SUM(A1), \"quoted\"", Group = "é ü", Minimum = "0" },
        };
        sheet = sheet with { Rows = rows };
        var file = SpreadsheetFile.Write(SheetTable.Of(sheet), form);
        var view = SheetImport.Compare("s", sheet, SpreadsheetFile.Read(file));
        Assert.Empty(view.Unknown);
        Assert.Empty(view.NewColumns);
        Assert.Equal(["same", "same", "same", "same"], view.Rows.Select(r => r.State));
    }

    [Fact]
    public void A_table_is_compared_row_by_row_with_units_names_and_what_is_missing()
    {
        var document = Drive();
        var text = """
            Name;Unit;North;South;East;Colour
            J1;kg.m2;0.5;300 kg.cm2;;
            ratio;;3;;;
            J_unused;;20;;9;
            1st;;1;;;
            fresh;m;2.5;1 km;;
            bad;m;2 s;;;
            """.Replace(';', '\t');
        // Colour is a header like any other: a column of values without any.
        var view = SheetImport.Compare("s", document.Sheets["s"], SpreadsheetFile.Read(Encoding.UTF8.GetBytes(text)));
        Assert.Equal(["East", "Colour"], view.NewColumns);
        var states = view.Rows.ToDictionary(r => r.Name, r => r.State);
        Assert.Equal("changed", states["J1"]);
        Assert.Equal("changed", states["ratio"]);
        Assert.Equal("changed", states["J_unused"]);
        Assert.Equal("wrong", states["1st"]);
        Assert.Equal("added", states["fresh"]);
        Assert.Equal("wrong", states["bad"]);
        Assert.Equal("missing", states["never"]);
        Assert.Contains("kind of m", view.Rows.Single(r => r.Name == "bad").Problem);
        var change = Assert.Single(view.Rows[0].Cells);
        Assert.Equal(("North", "0.4", "0.5"), (change.Column, change.Before, change.After));
        var editable = Editable(document);
        editable.Apply([.. view.Columns, .. view.Rows.Where(r => r.State is "changed" or "added").SelectMany(r => r.Operations)]);
        var after = editable.Document.Sheets["s"];
        Assert.Equal("0.5", after.Rows["r1"].Values["n"]);
        Assert.Equal("300 kg.cm2", after.Rows["r1"].Values["o"]);
        Assert.False(after.Rows["r2"].Values.ContainsKey("o"));
        Assert.Contains(after.Rows.Values, r => r.Name == "fresh" && r.Values.Count == 2);
        Assert.Contains(after.Columns.Values, c => c.Name == "East");
    }

    [Fact]
    public void A_number_typed_over_one_with_a_unit_has_that_unit_again()
    {
        var sheet = Drive().Sheets["s"];
        var view = SheetImport.Compare(
            "s",
            sheet,
            [
                ["Name", "Unit", "North"],
                ["never", "s", 2.0],
            ]
        );
        var row = view.Rows.Single(r => r.Name == "never");
        Assert.Equal("2 s", Assert.Single(row.Cells).After);
    }

    [Fact]
    public void A_unit_of_another_kind_is_wrong_and_a_table_without_names_is_refused()
    {
        var sheet = Drive().Sheets["s"];
        var view = SheetImport.Compare(
            "s",
            sheet,
            [
                ["Name", "Unit", "North"],
                ["J1", "s", 0.4],
            ]
        );
        Assert.Equal("wrong", view.Rows[0].State);
        Assert.Throws<DocumentException>(() =>
            SheetImport.Compare(
                "s",
                sheet,
                [
                    ["a", "b"],
                    [1.0, 2.0],
                ]
            )
        );
        Assert.Throws<DocumentException>(() => SheetImport.Compare("s", sheet, []));
    }

    [Fact]
    public void Files_that_are_no_tables_are_refused_in_words()
    {
        Assert.Throws<DocumentException>(() => SpreadsheetFile.Read([.. "PK"u8, 1, 2, 3, 4, 5]));
        var random = new Random(5);
        for (var i = 0; i < 200; i++)
        {
            var bytes = new byte[random.Next(200)];
            random.NextBytes(bytes);
            if (i % 2 == 0 && bytes.Length > 4)
                "PK\u0003\u0004"u8.CopyTo(bytes);
            try
            {
                SpreadsheetFile.Read(bytes);
            }
            catch (DocumentException)
            {
                // It says so; anything else would fail this test.
            }
        }
    }

    [Fact]
    public void Where_a_row_is_used_is_told_for_all_levels()
    {
        var bench = new Bench();
        var id = bench.Create(Drive());
        var uses = new SheetWork(bench.Models, bench.Compute).Uses(id, "s");
        Assert.Equal(["First ▸ k", "Rotor ▸ J"], uses["J1"].Select(u => u.Text));
        Assert.Equal("b/g", uses["ratio"].Single().Part);
        Assert.Equal("Suppliers ▸ ratio", uses["J_unused"].Single().Text);
        Assert.False(uses.ContainsKey("never"));
    }

    [Fact]
    public void Ten_thousand_rows_are_edited_row_by_row_and_only_used_ones_are_in_the_model()
    {
        var document = Drive();
        var sheet = document.Sheets["s"];
        var rows = new Dictionary<string, RowNode>(sheet.Rows);
        for (var i = 0; i < 10_000; i++)
            rows[$"x{i}"] = Row($"x{i}", null, ("n", $"{i}"));
        document = document with { Sheets = new() { ["s"] = sheet with { Rows = rows } } };
        var editable = Editable(document);
        editable.Apply([new PatchOperation("add", "/sheets/s/rows/x77/values/n", "5")]);
        Assert.Equal("5", editable.Document.Sheets["s"].Rows["x77"].Values["n"]);
        // Rows that were not touched are the same objects, so that nothing looks at them again.
        var before = editable.Document.Sheets["s"].Rows["x78"];
        editable.Apply([new PatchOperation("add", "/sheets/s/rows/x79/values/n", "6")]);
        Assert.Same(before, editable.Document.Sheets["s"].Rows["x78"]);
        Assert.Null(Prepared(editable.Document).Model.Find("x77"));
    }
}
