using AnchorBend.Workbench.Lessons;
using Dapper;

namespace AnchorBend.Server.Storage;

/// <summary>Models that are made in lessons.</summary>
public sealed class LessonStore(Database database) : ILessonStore
{
    public (string Lesson, IReadOnlyList<string> Skipped)? Of(string model)
    {
        using var connection = database.Open();
        return
            connection.QueryFirstOrDefault<(string?, string?)>("select lesson, skipped from lessons where model_id = @model", new { model })
                is ({ } lesson, { } skipped)
            ? (lesson, skipped.Split(' ', StringSplitOptions.RemoveEmptyEntries))
            : null;
    }

    public void Put(string model, string lesson, IReadOnlyList<string> skipped) =>
        database.Write(c =>
            c.Execute(
                "insert or replace into lessons values (@model, @lesson, @words)",
                new
                {
                    model,
                    lesson,
                    words = string.Join(' ', skipped),
                }
            )
        );

    public void Remove(string model) => database.Write(c => c.Execute("delete from lessons where model_id = @model", new { model }));

    public IReadOnlyList<(string Lesson, string Model)> Models()
    {
        using var connection = database.Open();
        return
        [
            .. connection.Query<(string, string)>(
                """
                select lesson, model_id from lessons join models on models.id = model_id
                where trashed is null order by changed desc
                """
            ),
        ];
    }
}
