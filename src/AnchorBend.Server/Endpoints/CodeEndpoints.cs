using AnchorBend.Workbench.Code;

namespace AnchorBend.Server.Endpoints;

/// <summary>Parts as C code over HTTP.</summary>
static class CodeEndpoints
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapPost("/models/{id}/code", (string id, CodeOrder order, CodeWork code, CancellationToken wanted) =>
                code.Write(id, Whole(order), wanted)
            )
            .WithName("writeCode")
            .ProducesProblem(404)
            .ProducesProblem(422);
        api.MapPost("/models/{id}/code/check", (string id, CodeCheckOrder order, CodeWork code, CancellationToken wanted) =>
            {
                Whole(Requests.Needed(order.Code, "code"));
                return code.Check(id, order, wanted);
            })
            .WithName("checkCode")
            .ProducesProblem(404)
            .ProducesProblem(422);
    }

    static CodeOrder Whole(CodeOrder order)
    {
        Requests.Needed(order.Part, "part");
        Requests.Needed(order.Step, "step");
        if (order.Tunable is { } tunable)
        {
            Requests.AtMost(1000, tunable, "parameters");
            foreach (var name in tunable)
                Requests.Needed(name, "tunable");
        }

        return order;
    }
}
