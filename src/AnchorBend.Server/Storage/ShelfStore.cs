using AnchorBend.Workbench.Shelf;
using Dapper;

namespace AnchorBend.Server.Storage;

/// <summary>Folders, tags and the trash beside the models; cards as they were made.</summary>
public sealed class ShelfStore(Database database) : IShelfStore
{
    public IReadOnlyList<ShelfRow> Rows()
    {
        using var connection = database.Open();
        var tags = connection
            .Query<(string Model, string Tag)>("select model_id, tag from model_tags order by tag")
            .ToLookup(t => t.Model, t => t.Tag);
        return
        [
            .. connection
                .Query<(string Id, string Name, string Folder, string Changed, long Revision, string? Author, string? Trashed)>(
                    """
                    select id, name, folder, changed, m.revision, e.author, trashed
                    from models m left join edits e on e.model_id = m.id and e.revision = m.revision
                    order by changed desc, id
                    """
                )
                .Select(m => new ShelfRow(m.Id, m.Name, m.Folder, [.. tags[m.Id]], m.Changed, m.Revision, m.Author ?? "", m.Trashed)),
        ];
    }

    public IReadOnlyList<string> Folders()
    {
        using var connection = database.Open();
        return [.. connection.Query<string>("select path from folders order by path")];
    }

    public bool Place(string model, string folder, IReadOnlyList<string> tags) =>
        database.Write(connection =>
        {
            using var transaction = connection.BeginTransaction();
            var known = connection.Execute("update models set folder = @folder where id = @model", new { model, folder }, transaction) > 0;
            if (!known)
                return false;
            connection.Execute("delete from model_tags where model_id = @model", new { model }, transaction);
            connection.Execute("insert into model_tags values (@model, @tag)", tags.Select(tag => new { model, tag }), transaction);
            transaction.Commit();
            return true;
        });

    public bool Trash(string model, string? at) =>
        database.Write(c => c.Execute("update models set trashed = @at where id = @model", new { model, at }) > 0);

    public void PutFolder(string path) => database.Write(c => c.Execute("insert or ignore into folders values (@path)", new { path }));

    public void MoveFolder(string from, string to) =>
        database.Write(connection =>
        {
            using var transaction = connection.BeginTransaction();
            foreach (var (table, column) in Holding)
                connection.Execute(
                    $"""
                    update or replace {table} set {column} = @to || substr({column}, length(@from) + 1)
                    where {column} = @from or substr({column}, 1, length(@from) + 1) = @from || '/'
                    """,
                    new { from, to },
                    transaction
                );
            transaction.Commit();
            return true;
        });

    static readonly (string Table, string Column)[] Holding = [("models", "folder"), ("folders", "path"), ("grants", "folder")];

    public void RemoveFolder(string path) =>
        database.Write(connection =>
        {
            using var transaction = connection.BeginTransaction();
            connection.Execute(
                """
                delete from folders where path = @path or substr(path, 1, length(@path) + 1) = @path || '/';
                delete from grants where folder = @path or substr(folder, 1, length(@path) + 1) = @path || '/';
                """,
                new { path },
                transaction
            );
            var above = path.LastIndexOf('/') is >= 0 and var slash ? path[..slash] : "";
            connection.Execute(
                "update models set folder = @above where folder = @path or substr(folder, 1, length(@path) + 1) = @path || '/'",
                new { path, above },
                transaction
            );
            transaction.Commit();
            return true;
        });

    public long? Revision(string model)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<long?>("select revision from models where id = @model", new { model });
    }

    public IReadOnlyDictionary<string, CardFacts> Facts()
    {
        using var connection = database.Open();
        return connection
            .Query<(string Key, string Words, string Domains)>("select key, words, domains from cards")
            .ToDictionary(c => c.Key, c => new CardFacts(c.Words, c.Domains.Split(' ', StringSplitOptions.RemoveEmptyEntries)));
    }

    public string? Card(string key, long revision, string stamp)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<string>(
            "select card from cards where key = @key and revision = @revision and stamp = @stamp",
            new
            {
                key,
                revision,
                stamp,
            }
        );
    }

    public void PutCard(string key, long revision, string stamp, CardFacts facts, string card) =>
        database.Write(c =>
            c.Execute(
                "insert or replace into cards values (@key, @revision, @stamp, @Words, @domains, @card)",
                new
                {
                    key,
                    revision,
                    stamp,
                    facts.Words,
                    domains = string.Join(' ', facts.Domains),
                    card,
                }
            )
        );
}
