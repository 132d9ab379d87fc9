using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.People;

namespace AnchorBend.Workbench.Models;

/// <summary>The user's own package: parts that every model on this server can use.</summary>
public sealed class OwnPackage
{
    readonly IPartStore store;
    readonly Lock gate = new();
    Dictionary<string, string> texts;

    public OwnPackage(IPartStore store)
    {
        this.store = store;
        // Parts that were kept before ports got their present names are still of use.
        texts = store.Load().ToDictionary(t => t.Key, t => RenamedQuantities.Text(t.Value));
        Catalog = PartCatalog.With(texts, PartCatalog.Standard);
    }

    /// <summary>The package in front of the shipped catalog; another object after each change.</summary>
    public PartCatalog Catalog { get; private set; }

    public bool Contains(string name) => texts.ContainsKey(name);

    /// <summary>A part of the package whose text defines a class of this name otherwise; null where none does.</summary>
    /// <param name="except">A part that is not looked at.</param>
    public string? Defining(string name, string text, string except)
    {
        var definition = new System.Text.RegularExpressions.Regex($@"\b(?:block|model|class|function|connector)\s+{name}\b");
        return texts
            .FirstOrDefault(t => t.Key != except && definition.IsMatch(t.Value) && !t.Value.Contains(text.Trim(), StringComparison.Ordinal))
            .Key;
    }

    /// <summary>The document with the texts of all parts of the package that it uses, so that it opens anywhere.</summary>
    public ModelDocument Portable(ModelDocument document)
    {
        var known = texts;
        var definitions = new Dictionary<string, Definition>(document.Definitions);
        var brought = definitions.Values.OfType<TextDefinition>().Select(d => d.Name).ToHashSet();
        var open = new Queue<string>(
            definitions
                .Values.OfType<DiagramDefinition>()
                .SelectMany(d => d.Parts.Values.Select(p => p.Type))
                .Concat(definitions.Values.OfType<TextDefinition>().SelectMany(d => Named(d.Text, known)))
                .ToList()
        );
        while (open.TryDequeue(out var name))
        {
            if (!known.TryGetValue(name, out var text) || !brought.Add(name))
                continue;
            definitions[FreeId(definitions, name)] = new TextDefinition { Name = name, Text = text };
            foreach (var further in Named(text, known))
                open.Enqueue(further);
        }

        return document with
        {
            Definitions = definitions,
        };
    }

    static string FreeId(Dictionary<string, Definition> definitions, string name)
    {
        var id = name;
        for (var n = 2; definitions.ContainsKey(id); n++)
            id = $"{name}-{n}";
        return id;
    }

    /// <summary>Parts of the package whose names stand in a text.</summary>
    static IEnumerable<string> Named(string text, Dictionary<string, string> known) =>
        known.Keys.Where(name =>
            System.Text.RegularExpressions.Regex.IsMatch(text, $@"\b{System.Text.RegularExpressions.Regex.Escape(name)}\b")
        );

    /// <summary>Keeps a part, or a new text of one.</summary>
    /// <exception cref="ForbiddenException">The visitor may not change what all models use.</exception>
    public void Put(string name, string text)
    {
        Visitor.DemandFolder("", Access.Edit);
        lock (gate)
        {
            store.Put(name, text);
            texts = new Dictionary<string, string>(texts) { [name] = text };
            Catalog = PartCatalog.With(texts, PartCatalog.Standard);
        }
    }

    /// <returns>False when there is no such part.</returns>
    /// <exception cref="ForbiddenException">The visitor may not change what all models use.</exception>
    public bool Remove(string name)
    {
        Visitor.DemandFolder("", Access.Edit);
        lock (gate)
        {
            if (!texts.ContainsKey(name))
                return false;
            store.Remove(name);
            texts = texts.Where(t => t.Key != name).ToDictionary();
            Catalog = PartCatalog.With(texts, PartCatalog.Standard);
            return true;
        }
    }
}
