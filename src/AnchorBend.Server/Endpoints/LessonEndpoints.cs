using AnchorBend.Workbench.Lessons;

namespace AnchorBend.Server.Endpoints;

/// <param name="Skips">False takes it back.</param>
public sealed record SkipRequest(string Step, bool Skips);

/// <param name="Lesson">Null where the model is made in none.</param>
public sealed record ModelLesson(LessonView? Lesson);

/// <summary>Lessons over HTTP.</summary>
static class LessonEndpoints
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/lessons", (LessonWork lessons, CancellationToken wanted) => lessons.All(wanted)).WithName("lessons");
        api.MapPost("/lessons/{lesson}", (string lesson, LessonWork lessons) => new CreatedModel(lessons.Begin(lesson)))
            .WithName("beginLesson")
            .ProducesProblem(404);
        api.MapGet("/models/{id}/lesson", (string id, LessonWork lessons, CancellationToken wanted) =>
                new ModelLesson(lessons.Of(id, wanted))
            )
            .WithName("lessonOfModel")
            .ProducesProblem(404);
        api.MapPut("/models/{id}/lesson", (string id, SkipRequest request, LessonWork lessons) =>
            {
                lessons.Skip(id, Requests.Needed(request.Step, "step"), request.Skips);
                return TypedResults.NoContent();
            })
            .WithName("skipLessonStep")
            .ProducesProblem(404);
        api.MapDelete("/models/{id}/lesson", (string id, LessonWork lessons) =>
            {
                lessons.End(id);
                return TypedResults.NoContent();
            })
            .WithName("endLesson")
            .ProducesProblem(404);
    }
}
