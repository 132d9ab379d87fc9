using AnchorBend.Language;

namespace AnchorBend.Compiler.Planning;

/// <summary>
/// Maximum matching of a bipartite graph of equations and unknowns by augmenting paths from a greedy start
/// (Duff, "On algorithms for obtaining a maximum transversal", ACM TOMS 7, 1981), without recursion.
/// </summary>
public static class Matching
{
    /// <param name="candidates">For each equation the unknowns it can be solved for, preferred ones first.</param>
    /// <returns>For each equation its unknown, −1 where none is left.</returns>
    public static int[] Match(int[][] candidates, int unknowns)
    {
        var budget = WorkBudget.Current;
        var unknownOf = new int[candidates.Length];
        var equationOf = new int[unknowns];
        Array.Fill(unknownOf, -1);
        Array.Fill(equationOf, -1);
        for (var e = 0; e < candidates.Length; e++)
            foreach (var u in candidates[e])
            {
                if (equationOf[u] >= 0)
                    continue;
                equationOf[u] = e;
                unknownOf[e] = u;
                break;
            }

        var seen = new int[unknowns];
        var mark = 0;
        var path = new Stack<(int Equation, int Next)>();
        for (var start = 0; start < candidates.Length; start++)
        {
            if (unknownOf[start] >= 0)
                continue;
            budget.Check();
            mark++;
            path.Clear();
            path.Push((start, 0));
            while (path.Count > 0)
            {
                var (equation, next) = path.Pop();
                if (next >= candidates[equation].Length)
                    continue;
                path.Push((equation, next + 1));
                var unknown = candidates[equation][next];
                if (seen[unknown] == mark)
                    continue;
                seen[unknown] = mark;
                if (equationOf[unknown] >= 0)
                {
                    path.Push((equationOf[unknown], 0));
                    continue;
                }

                // A free unknown ends the path: every equation on it takes the unknown it was looking at.
                foreach (var (e, n) in path.ToArray())
                {
                    var taken = candidates[e][n - 1];
                    equationOf[taken] = e;
                    unknownOf[e] = taken;
                }

                break;
            }
        }

        return unknownOf;
    }
}
