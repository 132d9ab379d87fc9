using System.IO.Compression;
using System.Xml;
using System.Xml.Linq;
using System.Xml.Schema;
using AnchorBend.Delivery.Exchange;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Simulation.Grid;

namespace AnchorBend.Delivery.Tests;

/// <summary>What units say of themselves has the form that the standard gives it, and every reference leads to a variable.</summary>
public class SchemaTests
{
    static List<string> Faults(ZipArchive archive, string file, bool isThird)
    {
        var schemas = new XmlSchemaSet();
        schemas.Add(null, Path.Combine(AppContext.BaseDirectory, "Schemas", isThird ? "third.xsd" : "second.xsd"));
        List<string> faults = [];
        using var stream = archive.GetEntry(file)!.Open();
        XDocument.Load(stream).Validate(schemas, (_, e) => faults.Add(e.Message));
        return faults;
    }

    [CompiledTheory]
    [InlineData("plankton-winch", "p9", "2.0", false)]
    [InlineData("plankton-winch", "p9", "2.0", true)]
    [InlineData("plankton-winch", "p9", "3.0", false)]
    [InlineData("plankton-winch", "p9", "3.0", true)]
    [InlineData("quay-crane", "", "2.0", true)]
    [InlineData("quay-crane", "", "3.0", true)]
    [InlineData("tide-gate", "", "2.0", false)]
    [InlineData("tide-gate", "", "3.0", false)]
    public void Descriptions_have_the_form_of_the_standard(string example, string part, string version, bool isSolvedOutside)
    {
        var document = CodeUnitTests.Example(example);
        var request = new CodeRequest(part, 0.001, GridMethod.RungeKutta4, false, null, null, isSolvedOutside);
        var unit = CodeUnit.Of(document, PartCatalog.Of(document), request);
        using var archive = new ZipArchive(new MemoryStream(ExchangeUnit.Pack(unit, version, 10, default).Bytes));
        var isThird = version == "3.0";
        Assert.Empty(Faults(archive, "modelDescription.xml", isThird));
        if (isThird)
            Assert.Empty(Faults(archive, "sources/buildDescription.xml", isThird));

        using var stream = archive.GetEntry("modelDescription.xml")!.Open();
        var root = XDocument.Load(stream).Root!;
        var variables = root.Element("ModelVariables")!.Elements().ToList();
        var known = variables.Select((v, i) => isThird ? (int)v.Attribute("valueReference")! : i + 1).ToHashSet();
        Assert.Equal(variables.Count, known.Count);
        Assert.Equal(variables.Count, variables.Select(v => (string)v.Attribute("name")!).Distinct().Count());
        var named = root.Element("ModelStructure")!.Descendants().Where(e => e.HasAttributes).ToList();
        Assert.All(named, e => Assert.Contains((int)e.Attribute(isThird ? "valueReference" : "index")!, known));
        Assert.All(
            named.SelectMany(e => ((string?)e.Attribute("dependencies") ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries)),
            d => Assert.Contains(int.Parse(d), known)
        );
        // Units that variables are in are all defined.
        var units = root.Descendants("Unit").Select(u => (string)u.Attribute("name")!).ToHashSet();
        Assert.All(root.Element("ModelVariables")!.Descendants().Attributes("unit"), u => Assert.Contains(u.Value, units));
    }

    /// <summary>The schemas can refuse.</summary>
    [Theory]
    [InlineData("second", "<fmiModelDescription fmiVersion='2.0' modelName='m'/>")]
    [InlineData("third", "<fmiModelDescription fmiVersion='3.0' modelName='m' instantiationToken='t' guid='g'/>")]
    public void A_description_of_another_form_is_refused(string schema, string text)
    {
        var schemas = new XmlSchemaSet();
        schemas.Add(null, XmlReader.Create(Path.Combine(AppContext.BaseDirectory, "Schemas", schema + ".xsd")));
        List<string> faults = [];
        XDocument.Parse(text).Validate(schemas, (_, e) => faults.Add(e.Message));
        Assert.NotEmpty(faults);
    }
}
