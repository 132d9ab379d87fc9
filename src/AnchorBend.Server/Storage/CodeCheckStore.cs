using System.Text.Json;
using AnchorBend.Workbench.Code;
using Dapper;

namespace AnchorBend.Server.Storage;

/// <summary>Checks of code in the database, as JSON.</summary>
public sealed class CodeCheckStore(Database database) : ICodeCheckStore
{
    sealed record Row(string Delivery, string Result);

    public IReadOnlyDictionary<string, DeliveryCheck> Of(string model)
    {
        using var connection = database.Open();
        return connection
            .Query<Row>("select delivery, result from code_checks where model_id = @model", new { model })
            .ToDictionary(r => r.Delivery, r => JsonSerializer.Deserialize<DeliveryCheck>(r.Result)!);
    }

    public void Put(string model, string delivery, DeliveryCheck check)
    {
        var (result, made) = (JsonSerializer.Serialize(check), check.Made.ToString("O"));
        database.Write(c =>
            c.Execute(
                "insert into code_checks values (@model, @delivery, @result, @made) "
                    + "on conflict(model_id, delivery) do update set result = @result, made = @made",
                new
                {
                    model,
                    delivery,
                    result,
                    made,
                }
            )
        );
    }
}
