using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Runs;

/// <summary>Runs an example once in the background after the start, so that compilers and solvers are ready when the first user
/// is.</summary>
public static class WarmUp
{
    public static void Run()
    {
        var document = Examples.All().Values.Last();
        var prepared = PreparedModel.Prepare(DocumentElaboration.Elaborate(document, PartCatalog.Standard));
        if (!prepared.CanRun)
            return;
        var options = DocumentRun.OptionsOf(document);
        foreach (var method in (IntegrationMethod[])[IntegrationMethod.Auto, IntegrationMethod.Radau5])
        {
            using var simulator = new Simulator(
                prepared.Compiled!,
                new ParameterSet(prepared.Model),
                options with
                {
                    Method = method,
                    End = options.End / 20,
                }
            );
            simulator.Run();
        }
    }
}
