using System.Globalization;
using AnchorBend.Workbench.Models;
using Dapper;

namespace AnchorBend.Server.Storage;

/// <summary>The user's own package in the database.</summary>
public sealed class PartStore(Database database) : IPartStore
{
    public IReadOnlyDictionary<string, string> Load()
    {
        using var connection = database.Open();
        return connection
            .Query<(string Name, string Text)>("select name, text from own_parts order by name")
            .ToDictionary(p => p.Name, p => p.Text);
    }

    public void Put(string name, string text)
    {
        var now = DateTime.UtcNow.ToString("O", CultureInfo.InvariantCulture);
        database.Write(c =>
            c.Execute(
                "insert into own_parts values (@name, @text, @now) on conflict(name) do update set text = @text, changed = @now",
                new
                {
                    name,
                    text,
                    now,
                }
            )
        );
    }

    public void Remove(string name) => database.Write(c => c.Execute("delete from own_parts where name = @name", new { name }));
}
