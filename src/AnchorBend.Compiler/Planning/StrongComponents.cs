namespace AnchorBend.Compiler.Planning;

/// <summary>
/// Strongly connected components in an order in which every component comes after those it depends on
/// (Tarjan, SIAM J. Comput. 1, 1972), without recursion.
/// </summary>
static class StrongComponents
{
    /// <param name="dependencies">For each node the nodes it depends on.</param>
    public static List<int[]> Find(int[][] dependencies)
    {
        var n = dependencies.Length;
        var number = new int[n];
        var low = new int[n];
        var onStack = new bool[n];
        var stack = new Stack<int>();
        var result = new List<int[]>();
        var counter = 0;
        var work = new Stack<(int Node, int Next)>();
        for (var root = 0; root < n; root++)
        {
            if (number[root] != 0)
                continue;
            work.Push((root, 0));
            while (work.Count > 0)
            {
                var (node, next) = work.Pop();
                if (next == 0)
                {
                    number[node] = low[node] = ++counter;
                    stack.Push(node);
                    onStack[node] = true;
                }
                else
                {
                    var done = dependencies[node][next - 1];
                    if (onStack[done])
                        low[node] = Math.Min(low[node], low[done]);
                }

                var pushed = false;
                for (var i = next; i < dependencies[node].Length; i++)
                {
                    var other = dependencies[node][i];
                    if (number[other] == 0)
                    {
                        work.Push((node, i + 1));
                        work.Push((other, 0));
                        pushed = true;
                        break;
                    }

                    if (onStack[other])
                        low[node] = Math.Min(low[node], number[other]);
                }

                if (pushed || low[node] != number[node])
                    continue;
                var component = new List<int>();
                int member;
                do
                {
                    member = stack.Pop();
                    onStack[member] = false;
                    component.Add(member);
                } while (member != node);
                component.Reverse();
                result.Add([.. component]);
            }
        }

        return result;
    }
}
