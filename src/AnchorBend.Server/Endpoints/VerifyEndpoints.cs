using AnchorBend.Compiler.Preparation;
using AnchorBend.Interchange.Sheets;
using AnchorBend.Verification;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.FaultTrees;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Requirements;
using AnchorBend.Workbench.Views;

namespace AnchorBend.Server.Endpoints;

/// <param name="Rule">A temporal rule as typed.</param>
public sealed record RuleRequest(string Rule);

/// <param name="Problem">What is wrong with it, and what to do; null where nothing is.</param>
public sealed record RuleAnswer(string? Problem);

/// <summary>Requirements over HTTP, beside what edits and runs do with them.</summary>
static class VerifyEndpoints
{
    static readonly TimeSpan MostChecking = TimeSpan.FromSeconds(10);

    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost("/models/{id}/rules", Check).WithName("checkRule").ProducesProblem(404).ProducesProblem(422);
        api.MapGet("/models/{id}/requirements/file", Export).WithName("exportRequirements").ProducesProblem(404);
        api.MapPost("/models/{id}/requirements/rows", Import).WithName("readRequirements").ProducesProblem(404).ProducesProblem(422);
        api.MapGet("/models/{id}/trees", (string id, ModelWork models, ComputeGate gate, CancellationToken wanted) =>
                gate.Run(MostChecking, wanted, _ => FaultTreeView.All(models.Session(id).Present().Document))
            )
            .WithName("getFaultTrees")
            .ProducesProblem(404);
        api.MapGet("/models/{id}/trees/{tree}/file", Tree).WithName("exportFaultTree").ProducesProblem(404).ProducesProblem(422);
    }

    static IResult Export(string id, string? form, ModelWork models)
    {
        var document = models.Session(id).Present().Document;
        return form switch
        {
            null or "csv" => TypedResults.File(RequirementTable.Write(document, SpreadsheetForm.Text), "text/csv", "requirements.csv"),
            "xlsx" => TypedResults.File(RequirementTable.Write(document, SpreadsheetForm.Workbook), Workbook, "requirements.xlsx"),
            _ => throw new RequestException("'form' is csv or xlsx."),
        };
    }

    /// <param name="form">svg, csv or xlsx; svg without one.</param>
    static IResult Tree(string id, string tree, string? form, ModelWork models, ComputeGate gate, CancellationToken wanted)
    {
        if (form is not (null or "svg" or "csv" or "xlsx"))
            throw new RequestException("'form' is svg, csv or xlsx.");
        var document = models.Session(id).Present().Document;
        if (!document.FaultTrees.TryGetValue(tree, out var node))
            throw new NotFoundException("There is no such fault tree any more.");
        var name = FileName.Of(node.Name);
        return gate.Run<IResult>(MostChecking, wanted, _ =>
        {
            var view = FaultTreeView.Of(document, tree, node);
            return form switch
            {
                "csv" => TypedResults.File(FaultTreeTable.Write(node, view, SpreadsheetForm.Text), "text/csv", $"{name}.csv"),
                "xlsx" => TypedResults.File(FaultTreeTable.Write(node, view, SpreadsheetForm.Workbook), Workbook, $"{name}.xlsx"),
                _ => TypedResults.Text(FaultTreePicture.Of(node, view), "image/svg+xml"),
            };
        });
    }

    const string Workbook = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";

    static ActionView Import(string id, TableRequest request, ModelWork models, ComputeGate gate, CancellationToken wanted) =>
        gate.Run(MostChecking, wanted, stop =>
        {
            var (prepared, document, _) = models.Session(id).Prepare(stop);
            return RequirementTable.Read(document, prepared, request.Bytes());
        });

    static RuleAnswer Check(string id, RuleRequest request, ModelWork models, ComputeGate gate, CancellationToken wanted)
    {
        var rule = Requests.Needed(request.Rule, "rule");
        return gate.Run(MostChecking, wanted, stop =>
        {
            var (prepared, _, _) = models.Session(id).Prepare(stop);
            return new RuleAnswer(
                prepared.CanRun
                    ? RequirementCheck.ProblemOf(prepared, new ParameterSet(prepared.Model), rule)
                    : "The model has errors, so the rule cannot be checked yet."
            );
        });
    }
}
