using System.Text;
using AnchorBend.Interchange.Meshes;
using AnchorBend.Interchange.Sheets;
using AnchorBend.Interchange.Traces;
using AnchorBend.Language;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Tests;

namespace AnchorBend.Interchange.Tests;

/// <summary>
/// Damaged files of every kind that is read: each reader answers with what it says it answers with, within time and memory. What is read
/// in spite of all is a model that can be flattened and written.
/// </summary>
public class ReaderFuzzTests
{
    static readonly string[] Scraps =
    [
        "{",
        "}",
        "[",
        "]",
        "\"",
        "<",
        ">",
        "</",
        "<!DOCTYPE a [<!ENTITY b \"c\">]>",
        "&b;",
        "null",
        "1e999",
        "-1",
        "NaN",
        "99999999999",
        ",",
        ";",
        "\t",
        "\n",
        "\0",
        "\ud83d\udc1f",
        "../../x",
        "__proto__",
        "{\"a\":1,\"a\":2}",
        "end M;",
        "connect(a.y, b.u);",
        "annotation(Placement(transformation(extent={{0,0},{1e300,1}})));",
        "endfacet",
        "vertex nan 1 2",
        "time [s]",
        "=1+1",
        "M0 0L1e30 5",
        "<script>x</script>",
        "href=\"javascript:x\"",
    ];

    static readonly IReadOnlyList<string> Examples =
    [
        .. ((string[])["hatchery-tank", "near-and-far-side", "filling-pump", "pump-watch", "tide-gate-modes"]).Select(k =>
        {
            using var reader = new StreamReader(typeof(ReaderFuzzTests).Assembly.GetManifestResourceStream($"examples/{k}.json")!);
            return reader.ReadToEnd();
        }),
    ];

    static byte[] Bytes(string text) => Encoding.UTF8.GetBytes(text);

    static string Text(byte[] bytes) => Encoding.UTF8.GetString(bytes);

    static void Answers(IEnumerable<byte[]> seeds, int some, Action<byte[]> read, params Type[] promised)
    {
        var faults = Mutation.Faults([.. seeds], Scraps, Mutation.Count(some), read, e => promised.Any(p => p.IsInstanceOfType(e)));
        Assert.True(faults.Count == 0, string.Join('\n', faults));
    }

    [Fact]
    public void Documents() =>
        Answers(
            Examples.Select(Bytes),
            400,
            b =>
            {
                var document = DocumentJson.Read(Text(b));
                Assert.Equal(
                    DocumentJson.Write(document, false),
                    DocumentJson.Write(DocumentJson.Read(DocumentJson.Write(document, false)), false)
                );
            },
            typeof(DocumentException)
        );

    [Fact]
    public void Texts_of_models() =>
        Answers(
            Examples.Take(3).Select(e => Bytes(TextExport.Write(DocumentJson.Read(e), PartCatalog.Standard))),
            300,
            b => DocumentJson.Write(TextImport.Read(Text(b)), false),
            typeof(DocumentException),
            typeof(BudgetException)
        );

    [Fact]
    public void Charts_as_documents_of_the_standard() =>
        Answers(
            Examples
                .SelectMany(e => DocumentJson.Read(e).Definitions.Values.OfType<ChartDefinition>())
                .Select(c => Bytes(ChartXml.Write(c))),
            600,
            b => ChartXml.Read(Text(b)),
            typeof(DocumentException)
        );

    [Fact]
    public void Tables_of_runs() =>
        Answers(
            [
                Bytes("time [s],depth [m],speed [m/s]\n0,0,1\n0.5,0.5,1\n1,1,0\n"),
                Bytes("# a remark\n\nZeit [ms];Tiefe [cm]\n0;0,5\n10;1,5\n20;\"2,5\"\n"),
                Bytes("t\ta\tb\n0\t1\t2\n1\t3\t4\n1\t5\t6\n"),
            ],
            3000,
            b => CsvRunTable.Read(new MemoryStream(b)),
            typeof(DocumentException)
        );

    [Fact]
    public void Spreadsheets()
    {
        IReadOnlyList<IReadOnlyList<object?>> cells =
        [
            ["Name", "Value", "Unit"],
            ["J1", 0.42, "kg.m2"],
            ["c7", 26.0, "kN.m/rad"],
            [null, "x", true],
        ];
        Answers(
            [SpreadsheetFile.Write(cells, SpreadsheetForm.Workbook), SpreadsheetFile.Write(cells, SpreadsheetForm.Text)],
            500,
            b => SpreadsheetFile.Read(b),
            typeof(DocumentException)
        );
    }

    [Fact]
    public void Shapes() =>
        Answers(
            MeshFileTests.Forms(),
            3000,
            b => MeshFile.Read(b.AsSpan().StartsWith("{"u8) ? "a.gltf" : "a.stl", b),
            typeof(MeshException)
        );

    [Fact]
    public void Pictures_of_faces() =>
        Answers(
            [
                Bytes(
                    """
                    <svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9">
                    <g fill="#123"><path d="M0 0L5 5Z"/><circle r="2"/></g></svg>
                    """
                ),
                Bytes(
                    """
                    <svg xmlns="http://www.w3.org/2000/svg" width="10" height="10">
                    <rect width="3" height="4" style="fill:red"/><text x="1" y="2">a</text></svg>
                    """
                ),
                Convert.FromBase64String(
                    "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=="
                ),
            ],
            3000,
            b =>
            {
                var taken = FacePicture.Imported(b);
                foreach (var word in (string[])["<script", "javascript:", "onload", "foreignobject", "<!entity"])
                    Assert.DoesNotContain(word, taken, StringComparison.OrdinalIgnoreCase);
            },
            typeof(DocumentException)
        );
}
