namespace AnchorBend.Modeling.Documents;

/// <summary>Parts by which definitions would hold themselves, directly or through others: what closes such a chain is left out.</summary>
public sealed class DefinitionCycles
{
    readonly Dictionary<(string Definition, string Part), IReadOnlyList<string>> closing = [];

    public DefinitionCycles(ModelDocument document)
    {
        var done = new HashSet<string>();
        var chain = new List<string>();
        void Visit(string id)
        {
            if (!done.Add(id) || document.Definitions.GetValueOrDefault(id) is not DiagramDefinition diagram)
                return;
            chain.Add(id);
            foreach (var (partId, part) in diagram.Parts)
            {
                if (DefinitionReference.Parse(part.Type) is not { IsOwn: true, Key: var inner })
                    continue;
                if (chain.IndexOf(inner) is >= 0 and var start)
                    closing[(id, partId)] = [.. chain.Skip(start).Append(inner).Select(i => document.Definitions[i].Name)];
                else
                    Visit(inner);
            }

            chain.RemoveAt(chain.Count - 1);
        }

        Visit(document.Root);
        foreach (var id in document.Definitions.Keys)
            Visit(id);
    }

    public bool Closes(string definition, string part) => closing.ContainsKey((definition, part));

    /// <summary>The names of the definitions from the one that a part would hold again, back to it; null where nothing is closed.</summary>
    public IReadOnlyList<string>? Chain(string definition, string part) => closing.GetValueOrDefault((definition, part));
}
