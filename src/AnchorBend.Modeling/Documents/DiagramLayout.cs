using AnchorBend.Modeling.Catalog;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// Places parts in layers from left to right along the connections, with few crossings (after Sugiyama, Tagawa and Toda, IEEE Transactions
/// on Systems, Man and Cybernetics 11, 1981): longest paths give the layers, the mean place of the neighbours the order within a layer.
/// </summary>
public static class DiagramLayout
{
    const double Column = 80,
        Row = 56,
        Left = 48,
        Top = 64,
        Grid = 8;
    const int Sweeps = 6;

    public static DiagramDefinition Arrange(DiagramDefinition diagram, PartCatalog catalog)
    {
        var ids = diagram.Parts.Keys.ToList();
        var place = ids.Select((id, i) => (id, i)).ToDictionary(p => p.id, p => p.i);
        var edges = diagram
            .Wires.Values.Where(w => place.ContainsKey(w.From.Part) && place.ContainsKey(w.To.Part) && w.From.Part != w.To.Part)
            .Select(w => (From: place[w.From.Part], To: place[w.To.Part]))
            .Distinct()
            .ToList();
        var layer = Layers(ids.Count, edges);
        var columns = Enumerable.Range(0, ids.Count).GroupBy(i => layer[i]).OrderBy(g => g.Key).Select(g => g.ToList()).ToList();
        Order(columns, edges, layer);
        var parts = new Dictionary<string, PartNode>();
        var all = new PartSizes(diagram, catalog);
        var sizes = ids.Select(all.Of).ToArray();
        double Width(int i) => sizes[i].Width;
        double Height(int i) => sizes[i].Height;
        var x = Left;
        var tallest = columns.Count == 0 ? 0 : columns.Max(c => c.Sum(i => Height(i) + Row));
        foreach (var column in columns)
        {
            var widest = column.Max(Width);
            var y = Top + (tallest - column.Sum(i => Height(i) + Row)) / 2;
            foreach (var i in column)
            {
                parts[ids[i]] = diagram.Parts[ids[i]] with { X = Snapped(x + (widest - Width(i)) / 2), Y = Snapped(y) };
                y += Height(i) + Row;
            }

            x += widest + Column;
        }

        return diagram with
        {
            Parts = ids.ToDictionary(id => id, id => parts[id]),
        };
    }

    static double Snapped(double value) => Grid * Math.Round(value / Grid);

    /// <summary>Longest paths, with the edges that close a loop left out.</summary>
    static int[] Layers(int count, List<(int From, int To)> edges)
    {
        var next = edges.ToLookup(e => e.From, e => e.To);
        var state = new int[count];
        var order = new List<int>();
        var forward = new HashSet<(int, int)>();
        var fed = edges.Select(e => e.To).ToHashSet();
        foreach (var root in Enumerable.Range(0, count).OrderBy(i => fed.Contains(i)))
        {
            if (state[root] != 0)
                continue;
            var stack = new Stack<(int Node, IEnumerator<int> Further)>();
            state[root] = 1;
            stack.Push((root, next[root].GetEnumerator()));
            while (stack.Count > 0)
            {
                var (node, further) = stack.Peek();
                if (!further.MoveNext())
                {
                    state[node] = 2;
                    order.Add(node);
                    stack.Pop();
                    continue;
                }

                if (state[further.Current] == 1)
                    continue;
                forward.Add((node, further.Current));
                if (state[further.Current] != 0)
                    continue;
                state[further.Current] = 1;
                stack.Push((further.Current, next[further.Current].GetEnumerator()));
            }
        }

        var layer = new int[count];
        foreach (var node in Enumerable.Reverse(order))
        foreach (var to in next[node])
            if (forward.Contains((node, to)))
                layer[to] = Math.Max(layer[to], layer[node] + 1);
        return layer;
    }

    static void Order(List<List<int>> columns, List<(int From, int To)> edges, int[] layer)
    {
        var neighbours = edges.Concat(edges.Select(e => (From: e.To, To: e.From))).ToLookup(e => e.From, e => e.To);
        var rank = new Dictionary<int, double>();
        foreach (var column in columns)
            for (var i = 0; i < column.Count; i++)
                rank[column[i]] = i;
        for (var sweep = 0; sweep < Sweeps; sweep++)
            foreach (var column in sweep % 2 == 0 ? columns : Enumerable.Reverse(columns))
            {
                var before = column.ToDictionary(
                    i => i,
                    i => neighbours[i].Where(n => layer[n] != layer[i]).Select(n => rank[n]).DefaultIfEmpty(rank[i]).Average()
                );
                column.Sort((a, b) => before[a].CompareTo(before[b]) is not 0 and var c ? c : rank[a].CompareTo(rank[b]));
                for (var i = 0; i < column.Count; i++)
                    rank[column[i]] = i;
            }
    }
}
