namespace AnchorBend.Numerics.Linear;

/// <summary>
/// An elimination order that keeps fill-in low: minimum degree on a quotient graph with element absorption and degrees bounded from above
/// (Amestoy, Davis and Duff, SIAM J. Matrix Anal. Appl. 17, 1996, without supervariables).
/// </summary>
static class MinimumDegree
{
    /// <returns>The columns in the order of elimination, for the pattern of <c>A + Aᵀ</c>.</returns>
    public static int[] Order(SparsePattern pattern)
    {
        var n = pattern.ColumnCount;
        var neighbours = Neighbours(pattern);
        var elementsOf = new List<int>[n];
        var members = new int[n][];
        var eliminated = new bool[n];
        var degree = new int[n];
        var queue = new PriorityQueue<int, (int Degree, int Index)>();
        for (var i = 0; i < n; i++)
        {
            elementsOf[i] = [];
            queue.Enqueue(i, (degree[i] = neighbours[i].Count, i));
        }

        var order = new int[n];
        var mark = new int[n];
        var stamp = 0;
        for (var k = 0; k < n; k++)
        {
            int pivot;
            do
            {
                queue.TryDequeue(out pivot, out var key);
                if (!eliminated[pivot] && key.Degree == degree[pivot])
                    break;
            } while (true);
            order[k] = pivot;
            eliminated[pivot] = true;
            stamp++;
            mark[pivot] = stamp;
            var front = new List<int>();
            void Take(int i)
            {
                if (eliminated[i] || mark[i] == stamp)
                    return;
                mark[i] = stamp;
                front.Add(i);
            }

            foreach (var i in neighbours[pivot])
                Take(i);
            foreach (var e in elementsOf[pivot])
            {
                if (members[e] is not { } inside)
                    continue;
                foreach (var i in inside)
                    Take(i);
                members[e] = null!;
            }

            members[pivot] = [.. front];
            neighbours[pivot] = [];
            elementsOf[pivot] = [];
            foreach (var i in front)
            {
                // What lies within the new element need not be listed one by one.
                neighbours[i].RemoveAll(j => mark[j] == stamp || eliminated[j]);
                elementsOf[i].RemoveAll(e => members[e] is null);
                elementsOf[i].Add(pivot);
                var bound = neighbours[i].Count;
                foreach (var e in elementsOf[i])
                    bound += members[e].Length - 1;
                degree[i] = Math.Min(bound, n - k - 1);
                queue.Enqueue(i, (degree[i], i));
            }
        }

        return order;
    }

    static List<int>[] Neighbours(SparsePattern pattern)
    {
        var n = pattern.ColumnCount;
        var sets = new HashSet<int>[n];
        for (var i = 0; i < n; i++)
            sets[i] = [];
        for (var j = 0; j < n; j++)
        for (var p = pattern.Starts[j]; p < pattern.Starts[j + 1]; p++)
        {
            var i = pattern.Rows[p];
            if (i == j)
                continue;
            sets[i].Add(j);
            sets[j].Add(i);
        }

        return [.. sets.Select(s => s.Order().ToList())];
    }
}
