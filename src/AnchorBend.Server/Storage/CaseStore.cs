using System.Globalization;
using System.Text.Json;
using AnchorBend.Workbench.Cases;
using Dapper;

namespace AnchorBend.Server.Storage;

/// <summary>Runs of cases in the database: one row for each, and one for each result, which is kept as JSON.</summary>
public sealed class CaseStore(Database database) : ICaseStore
{
    sealed record Head(string Id, string Model, long Revision, string Cases, string State, string Made);

    sealed record Text(string Id, string Document);

    public IReadOnlyList<StoredSuite> List(string? model)
    {
        using var connection = database.Open();
        var heads = connection
            .Query<Head>(
                "select id, model_id as model, revision, cases, state, made from case_runs "
                    + "where @model is null or model_id = @model order by made desc",
                new { model }
            )
            .ToList();
        var documents = model is null
            ? connection.Query<Text>("select id, document from case_runs").ToDictionary(t => t.Id, t => t.Document)
            : [];
        return
        [
            .. heads.Select(h => new StoredSuite(
                h.Id,
                h.Model,
                h.Revision,
                documents.GetValueOrDefault(h.Id, ""),
                JsonSerializer.Deserialize<string[]>(h.Cases)!,
                Enum.Parse<SuiteState>(h.State, true),
                DateTime.Parse(h.Made, CultureInfo.InvariantCulture, DateTimeStyles.RoundtripKind)
            )),
        ];
    }

    sealed record Outcome(string Run, string What);

    public IReadOnlyList<SuiteSummary> Summaries(string model)
    {
        using var connection = database.Open();
        var outcomes = connection
            .Query<Outcome>(
                "select run_id as run, outcome as what from case_results join case_runs on case_runs.id = run_id where model_id = @model",
                new { model }
            )
            .ToLookup(o => o.Run, o => Enum.Parse<CaseOutcome>(o.What));
        return [.. List(model).Select(s => SuiteSummary.Of(s, [.. outcomes[s.Id]]))];
    }

    public void Put(StoredSuite suite) =>
        database.Write(c =>
            c.Execute(
                "insert into case_runs values (@Id, @ModelId, @Revision, @Document, @cases, @state, @made) "
                    + "on conflict (id) do update set state = @state",
                new
                {
                    suite.Id,
                    suite.ModelId,
                    suite.Revision,
                    suite.Document,
                    cases = JsonSerializer.Serialize(suite.Cases),
                    state = suite.State.ToString(),
                    made = suite.Made.ToString("O", CultureInfo.InvariantCulture),
                }
            )
        );

    public void Add(string suite, CaseResult result) =>
        database.Write(c =>
            c.Execute(
                "insert or replace into case_results values (@suite, @Case, @outcome, @made, @json)",
                new
                {
                    suite,
                    result.Case,
                    outcome = result.Outcome.ToString(),
                    made = result.Provenance.Made.ToString("O", CultureInfo.InvariantCulture),
                    json = JsonSerializer.Serialize(result),
                }
            )
        );

    public IReadOnlyList<CaseResult> Results(string suite)
    {
        using var connection = database.Open();
        return [.. connection.Query<string>("select result from case_results where run_id = @suite", new { suite }).Select(Read)];
    }

    public CaseResult? Newest(string model, string @case, bool passed = false)
    {
        using var connection = database.Open();
        return
            connection.QueryFirstOrDefault<string>(
                "select result from case_results join case_runs on case_runs.id = run_id where model_id = @model and case_id = @case "
                    + "and (not @passed or outcome = 'Passed') order by case_results.made desc limit 1",
                new
                {
                    model,
                    @case,
                    passed,
                }
            )
                is { } json
            ? Read(json)
            : null;
    }

    public IReadOnlyList<CaseResult> Newest(string model)
    {
        using var connection = database.Open();
        return
        [
            .. connection
                .Query<string>(
                    "select result from (select result, row_number() over (partition by case_id order by case_results.made desc) as place "
                        + "from case_results join case_runs on case_runs.id = run_id where model_id = @model) where place = 1",
                    new { model }
                )
                .Select(Read),
        ];
    }

    public IReadOnlyList<string> Superseded(string model, int keep)
    {
        using var connection = database.Open();
        return
        [
            .. connection.Query<string>(
                "with results as (select run_id, case_id, outcome, case_results.made from case_results "
                    + "join case_runs on case_runs.id = run_id where model_id = @model), "
                    + "places as (select run_id, row_number() over (partition by case_id order by made desc) as newest, "
                    + "row_number() over (partition by case_id, outcome order by made desc) as of_outcome, outcome from results) "
                    + "select id from case_runs where model_id = @model and id not in "
                    + "(select id from case_runs where model_id = @model order by made desc limit @keep) and id not in "
                    + "(select run_id from places where newest = 1 or of_outcome = 1 and outcome = 'Passed')",
                new { model, keep }
            ),
        ];
    }

    public void Remove(string suite) => database.Write(c => c.Execute("delete from case_runs where id = @suite", new { suite }));

    static CaseResult Read(string json) => JsonSerializer.Deserialize<CaseResult>(json)!;
}
