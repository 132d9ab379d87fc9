using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation.Grid;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Delivery.Tests;

/// <summary>
/// Every part of the catalog whose ports are signals, functions too: its code computes what the model does, or it is told why not.
/// </summary>
public class CatalogCodeTests
{
    public static TheoryData<string> Parts() =>
        [
            .. PartCatalog
                .Standard.Names.Where(n =>
                    PartCatalog.Standard.Describe(n) is { } part
                    && part.Group != "Ports"
                    && part.Ports.All(p => p.Domain is null)
                    && part.Ports.Any(p => p.Causality == Language.Syntax.Causality.Output)
                )
                .Order(),
        ];

    [CompiledTheory]
    [MemberData(nameof(Parts))]
    public void Code_of_a_part_computes_its_bits(string type)
    {
        var model = new DiagramDefinition
        {
            Name = "Rig",
            Parts = new() { ["c"] = Part(type, "Unit") },
        }.AsModel();
        foreach (var method in new[] { GridMethod.Euler, GridMethod.RungeKutta4 })
        {
            CodeUnit unit;
            try
            {
                unit = CodeUnit.Of(model, PartCatalog.Of(model), new CodeRequest("Unit", 0.01, method, false, null));
            }
            catch (DeliveryException e)
            {
                Assert.NotEmpty(e.Advice);
                Assert.Contains(e.Code, Refusals);
                return;
            }

            var result = BackToBack.Compare(unit, DrawnInputs.Of(unit, 400, 5));
            Assert.Equal("", result.Compiler);
            Assert.Null(result.First);
        }
    }

    /// <summary>Reasons that there are; another one would be a fault.</summary>
    static readonly string[] Refusals = ["delay", "function", "grid", "outputs", "unit"];
}
