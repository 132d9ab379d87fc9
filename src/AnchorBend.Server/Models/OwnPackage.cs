using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Server.Storage;
using Dapper;

namespace AnchorBend.Server.Models;

/// <summary>The user's own package: parts that every model on this server can use.</summary>
public sealed class OwnPackage
{
    readonly Database database;
    readonly Lock gate = new();
    Dictionary<string, string> texts;

    public OwnPackage(Database database)
    {
        this.database = database;
        using var connection = database.Open();
        texts = connection
            .Query<(string Name, string Text)>("select name, text from own_parts order by name")
            .ToDictionary(p => p.Name, p => p.Text);
        Catalog = PartCatalog.With(texts, PartCatalog.Standard);
    }

    /// <summary>The package in front of the shipped catalog; another object after each change.</summary>
    public PartCatalog Catalog { get; private set; }

    public bool Contains(string name) => texts.ContainsKey(name);

    /// <summary>The document with the texts of all parts of the package that it uses, so that it opens anywhere.</summary>
    public ModelDocument Portable(ModelDocument document)
    {
        var known = texts;
        var classes = new Dictionary<string, ClassNode>(document.Classes);
        var open = new Queue<string>(
            document.Parts.Values.Select(p => p.Type).Concat(document.Classes.Values.SelectMany(c => Named(c.Text, known)))
        );
        while (open.TryDequeue(out var name))
        {
            if (classes.ContainsKey(name) || !known.TryGetValue(name, out var text))
                continue;
            classes[name] = new ClassNode { Text = text };
            foreach (var further in Named(text, known))
                open.Enqueue(further);
        }

        return document with
        {
            Classes = classes,
        };
    }

    /// <summary>Parts of the package whose names stand in a text.</summary>
    static IEnumerable<string> Named(string text, Dictionary<string, string> known) =>
        known.Keys.Where(name =>
            System.Text.RegularExpressions.Regex.IsMatch(text, $@"\b{System.Text.RegularExpressions.Regex.Escape(name)}\b")
        );

    /// <summary>Keeps a part, or a new text of one.</summary>
    public void Put(string name, string text)
    {
        lock (gate)
        {
            var now = DateTime.UtcNow.ToString("O", System.Globalization.CultureInfo.InvariantCulture);
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
            texts = new Dictionary<string, string>(texts) { [name] = text };
            Catalog = PartCatalog.With(texts, PartCatalog.Standard);
        }
    }

    /// <returns>False when there is no such part.</returns>
    public bool Remove(string name)
    {
        lock (gate)
        {
            if (!texts.ContainsKey(name))
                return false;
            database.Write(c => c.Execute("delete from own_parts where name = @name", new { name }));
            texts = texts.Where(t => t.Key != name).ToDictionary();
            Catalog = PartCatalog.With(texts, PartCatalog.Standard);
            return true;
        }
    }
}
