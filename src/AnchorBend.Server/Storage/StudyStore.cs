using System.Buffers.Binary;
using System.Globalization;
using System.Runtime.InteropServices;
using System.Text.Json;
using AnchorBend.Workbench.Studies;
using Dapper;

namespace AnchorBend.Server.Storage;

/// <summary>Runs of studies in the database: one row for each, and one for each result.</summary>
public sealed class StudyStore(Database database) : IStudyStore
{
    sealed record Head(
        string Id,
        string Model,
        string Study,
        long Revision,
        string Document,
        string State,
        long Priority,
        string Made,
        string Units,
        double Seconds,
        long OnCluster
    );

    sealed record Line(long Row, byte[] Measures, byte[] Verdicts, string? Problem, long Failed, double Seconds);

    public IReadOnlyList<StoredStudy> List(string? model)
    {
        using var connection = database.Open();
        return
        [
            .. connection
                .Query<Head>(
                    "select id, model_id as model, study, revision, document, state, priority, made, units, seconds, "
                        + "on_cluster as onCluster from studies where @model is null or model_id = @model order by made desc",
                    new { model }
                )
                .Select(h => new StoredStudy(
                    h.Id,
                    h.Model,
                    h.Study,
                    h.Revision,
                    h.Document,
                    Enum.Parse<StudyState>(h.State, true),
                    (int)h.Priority,
                    DateTime.Parse(h.Made, CultureInfo.InvariantCulture, DateTimeStyles.RoundtripKind),
                    JsonSerializer.Deserialize<string?[]>(h.Units)!,
                    h.Seconds,
                    h.OnCluster != 0
                )),
        ];
    }

    public void Put(StoredStudy study) =>
        database.Write(c =>
            c.Execute(
                "insert into studies values (@Id, @ModelId, @Study, @Revision, @Document, @state, @Priority, @made, @units, @Seconds, "
                    + "@onCluster) on conflict (id) do update set state = @state, priority = @Priority, units = @units, "
                    + "seconds = @Seconds, on_cluster = @onCluster",
                new
                {
                    study.Id,
                    study.ModelId,
                    study.Study,
                    study.Revision,
                    study.Document,
                    state = study.State.ToString(),
                    study.Priority,
                    made = study.Made.ToString("O", CultureInfo.InvariantCulture),
                    units = JsonSerializer.Serialize(study.Units),
                    study.Seconds,
                    onCluster = study.IsOnCluster ? 1 : 0,
                }
            )
        );

    public void Add(string id, IReadOnlyList<StudyResult> results) =>
        database.Write(c =>
        {
            using var transaction = c.BeginTransaction();
            c.Execute(
                "insert or replace into study_results values (@id, @Index, @measures, @verdicts, @Problem, @failed, @Seconds)",
                results.Select(r => new
                {
                    id,
                    r.Index,
                    measures = Doubles(r.Measures),
                    verdicts = Verdicts(r.Verdicts),
                    r.Problem,
                    failed = r.IsFailed ? 1 : 0,
                    r.Seconds,
                }),
                transaction
            );
            c.Execute(
                "insert or replace into study_courses values (@id, @Index, @courses)",
                results
                    .Where(r => r.Courses is not null)
                    .Select(r => new
                    {
                        id,
                        r.Index,
                        courses = MemoryMarshal.AsBytes(r.Courses.AsSpan()).ToArray(),
                    }),
                transaction
            );
            transaction.Commit();
            return results.Count;
        });

    sealed record CourseLine(long Row, byte[] Values);

    public IReadOnlyDictionary<int, double[]> Courses(string id, IReadOnlyList<int> rows, int place)
    {
        const int bytes = StudyCourses.Instants * sizeof(double);
        using var connection = database.Open();
        return connection
            .Query<CourseLine>(
                "select row, substr(courses, @from, @bytes) as \"values\" from study_courses where study_id = @id "
                    + "and row in (select value from json_each(@rows)) and length(courses) >= @from + @bytes - 1",
                new
                {
                    id,
                    rows = JsonSerializer.Serialize(rows),
                    from = place * bytes + 1,
                    bytes,
                }
            )
            .ToDictionary(l => (int)l.Row, l => MemoryMarshal.Cast<byte, double>(l.Values).ToArray());
    }

    public IReadOnlyList<StudyResult> Results(string id)
    {
        using var connection = database.Open();
        return
        [
            .. connection
                .Query<Line>(
                    "select row, measures, verdicts, problem, failed, seconds from study_results where study_id = @id order by row",
                    new { id }
                )
                .Select(l => new StudyResult((int)l.Row, Doubles(l.Measures), Verdicts(l.Verdicts), l.Problem, l.Failed != 0, l.Seconds)),
        ];
    }

    public void Clear(string id, IReadOnlyList<int> rows) =>
        database.Write(c =>
        {
            using var transaction = c.BeginTransaction();
            foreach (var table in (string[])["study_results", "study_courses"])
                c.Execute($"delete from {table} where study_id = @id and row = @row", rows.Select(row => new { id, row }), transaction);
            transaction.Commit();
            return rows.Count;
        });

    public void Remove(string id) => database.Write(c => c.Execute("delete from studies where id = @id", new { id }));

    static byte[] Doubles(IReadOnlyList<double?> values)
    {
        var bytes = new byte[8 * values.Count];
        for (var i = 0; i < values.Count; i++)
            BinaryPrimitives.WriteDoubleLittleEndian(bytes.AsSpan(8 * i), values[i] ?? double.NaN);
        return bytes;
    }

    static double?[] Doubles(byte[] bytes) => [.. Enumerable.Range(0, bytes.Length / 8).Select(i => At(bytes, 8 * i))];

    static double? At(byte[] bytes, int at) =>
        BinaryPrimitives.ReadDoubleLittleEndian(bytes.AsSpan(at)) is var value && double.IsNaN(value) ? null : value;

    const int VerdictBytes = 9;

    static byte[] Verdicts(IReadOnlyList<StudyVerdict> verdicts)
    {
        var bytes = new byte[VerdictBytes * verdicts.Count];
        for (var i = 0; i < verdicts.Count; i++)
        {
            bytes[VerdictBytes * i] = (byte)(
                verdicts[i].IsMet is { } met
                    ? met
                        ? 1
                        : 0
                    : 2
            );
            BinaryPrimitives.WriteDoubleLittleEndian(bytes.AsSpan(VerdictBytes * i + 1), verdicts[i].Margin ?? double.NaN);
        }

        return bytes;
    }

    static StudyVerdict[] Verdicts(byte[] bytes) =>
        [
            .. Enumerable
                .Range(0, bytes.Length / VerdictBytes)
                .Select(i => new StudyVerdict(
                    bytes[VerdictBytes * i] == 2 ? null : bytes[VerdictBytes * i] == 1,
                    At(bytes, VerdictBytes * i + 1)
                )),
        ];
}
