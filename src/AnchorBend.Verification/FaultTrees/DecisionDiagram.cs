using AnchorBend.Language;

namespace AnchorBend.Verification.FaultTrees;

/// <summary>
/// The top event of a fault tree as a reduced ordered binary decision diagram (R. E. Bryant, "Graph-based algorithms for Boolean function
/// manipulation", IEEE Trans. Computers 35, 1986; A. Rauzy, "New algorithms for fault trees analysis", Reliability Engineering and System
/// Safety 40, 1993). Probabilities by Shannon's expansion are exact for independent basic events, also where one stands in several places.
/// </summary>
public sealed class DecisionDiagram
{
    /// <summary>Places of the diagram: false and true come first.</summary>
    const int False = 0,
        True = 1,
        MostNodes = 300_000;

    readonly record struct Node(int Level, int Low, int High);

    readonly List<BasicEvent> events = [];
    readonly Dictionary<string, int> levels = [];
    readonly List<Node> nodes = [new(int.MaxValue, False, False), new(int.MaxValue, True, True)];
    readonly Dictionary<Node, int> unique = [];
    readonly Dictionary<(int, int, int), int> chosen = [];
    readonly Dictionary<string, int> gates = [];
    readonly int top;

    /// <exception cref="FaultTreeException">A probability is none, or the tree is too entangled.</exception>
    public DecisionDiagram(TreePlace tree)
    {
        // Events in the order in which a walk meets them: those that stand together come together.
        Order(tree, []);
        top = Of(tree);
    }

    void Order(TreePlace place, HashSet<string> seen)
    {
        if (!seen.Add(place.Id))
            return;
        if (place is BasicEvent basic)
        {
            if (!(basic.Probability is >= 0 and <= 1))
                throw new FaultTreeException($"The probability of '{basic.Id}' does not lie between 0 and 1.");
            levels[basic.Id] = events.Count;
            events.Add(basic);
        }
        else
            foreach (var input in ((Gate)place).Inputs)
                Order(input, seen);
    }

    int Of(TreePlace place)
    {
        if (place is BasicEvent basic)
            return Made(levels[basic.Id], False, True);
        if (gates.TryGetValue(place.Id, out var known))
            return known;
        var gate = (Gate)place;
        return gates[place.Id] = AtLeast(gate.Least, [.. gate.Inputs.Select(Of)]);
    }

    /// <summary>At least so many of some, one input after the other.</summary>
    int AtLeast(int least, int[] inputs)
    {
        // Of the inputs so far, whether at least 0, 1, … of them have come.
        var counts = Enumerable.Range(0, least + 1).Select(k => k == 0 ? True : False).ToArray();
        foreach (var input in inputs)
            for (var k = least; k > 0; k--)
                counts[k] = Choose(input, counts[k - 1], counts[k]);
        return counts[least];
    }

    int Made(int level, int low, int high) => low == high ? low : PlaceOf(new Node(level, low, high));

    /// <summary>A place of the diagram, or of a family of sets, once only.</summary>
    int PlaceOf(Node node)
    {
        if (unique.TryGetValue(node, out var at))
            return at;
        if (nodes.Count >= MostNodes)
            throw new FaultTreeException(
                "The fault tree is too entangled to be computed exactly: split it, or let fewer events stand in many places."
            );
        if ((nodes.Count & 0xFFF) == 0)
            WorkBudget.Current.Check();
        nodes.Add(node);
        return unique[node] = nodes.Count - 1;
    }

    /// <summary>If-then-else.</summary>
    int Choose(int condition, int then, int otherwise)
    {
        if (condition == True || then == otherwise)
            return then;
        if (condition == False)
            return otherwise;
        if (then == True && otherwise == False)
            return condition;
        if (chosen.TryGetValue((condition, then, otherwise), out var known))
            return known;
        var level = Math.Min(nodes[condition].Level, Math.Min(nodes[then].Level, nodes[otherwise].Level));
        int Side(int node, bool high) =>
            nodes[node].Level != level ? node
            : high ? nodes[node].High
            : nodes[node].Low;
        var made = Made(
            level,
            Choose(Side(condition, false), Side(then, false), Side(otherwise, false)),
            Choose(Side(condition, true), Side(then, true), Side(otherwise, true))
        );
        chosen[(condition, then, otherwise)] = made;
        return made;
    }

    /// <param name="most">Cut sets that are told.</param>
    public TreeFigures Figures(int most)
    {
        // Places stand behind those that they lead to, so one walk up gives probabilities, and one down with what each place is reached.
        var count = nodes.Count;
        var (value, reach, birnbaum) = (new double[count], new double[count], new double[events.Count]);
        value[True] = 1;
        for (var i = True + 1; i < count; i++)
        {
            var (level, low, high) = nodes[i];
            var p = events[level].Probability;
            value[i] = p * value[high] + (1 - p) * value[low];
        }

        reach[top] = 1;
        for (var i = count - 1; i > True; i--)
        {
            var (level, low, high) = nodes[i];
            var p = events[level].Probability;
            birnbaum[level] += reach[i] * (value[high] - value[low]);
            reach[high] += p * reach[i];
            reach[low] += (1 - p) * reach[i];
        }

        var probability = value[top];
        var importances = events.Select(
            (e, level) =>
                new Importance(
                    e.Id,
                    birnbaum[level],
                    probability > 0 ? birnbaum[level] * e.Probability / probability : 0,
                    probability > 0 ? 1 + birnbaum[level] * (1 - e.Probability) / probability : 0
                )
        );
        var (sets, sum) = CutSets(most);
        return new TreeFigures(probability, sets, sum, [.. importances.OrderByDescending(i => i.Share).ThenByDescending(i => i.Birnbaum)]);
    }

    /// <summary>
    /// Least sets by the minimal solutions of the diagram (Rauzy, as above, section 5): of a place those of its low side, and of its high
    /// side with its event, but for what holds one of the low side. All gates grow with their inputs, so these are the minimal cut sets.
    /// </summary>
    (IReadOnlyList<CutSet> Sets, double Count) CutSets(int most)
    {
        var solved = new Dictionary<int, int>();
        var without = new Dictionary<(int, int), int>();
        var root = Minimal(top);
        var counts = new Dictionary<int, double> { [False] = 0, [True] = 1 };
        double Count(int node) =>
            counts.TryGetValue(node, out var known) ? known : counts[node] = Count(nodes[node].Low) + Count(nodes[node].High);

        // The most probable first: an open path is as probable at best as what it holds so far times the best below it.
        var best = new Dictionary<int, double> { [False] = double.NegativeInfinity, [True] = 1 };
        double Best(int node) =>
            best.TryGetValue(node, out var known)
                ? known
                : best[node] = Math.Max(Best(nodes[node].Low), events[nodes[node].Level].Probability * Best(nodes[node].High));
        var sets = new List<CutSet>();
        var open = new PriorityQueue<(int Node, double So, List<string> Events), (double, int)>();
        open.Enqueue((root, 1, []), (-Best(root), 0));
        while (sets.Count < most && open.TryDequeue(out var path, out _))
        {
            WorkBudget.Current.Check();
            if (path.Node == False)
                continue;
            if (path.Node == True)
            {
                sets.Add(new CutSet(path.Events, path.So));
                continue;
            }

            var (level, low, high) = nodes[path.Node];
            if (low != False)
                open.Enqueue((low, path.So, path.Events), (-path.So * Best(low), path.Events.Count));
            var so = path.So * events[level].Probability;
            if (high != False)
                open.Enqueue((high, so, [.. path.Events, events[level].Id]), (-so * Best(high), path.Events.Count + 1));
        }

        return (sets, Count(root));

        int Minimal(int node)
        {
            if (node <= True)
                return node;
            if (solved.TryGetValue(node, out var known))
                return known;
            var (level, low, high) = nodes[node];
            var least = Minimal(low);
            return solved[node] = Set(level, least, Without(Minimal(high), least));
        }

        // A family of sets: a path that takes an event's high side holds it. What both sides say alike is no reason to leave it out.
        int Set(int level, int low, int high) => high == False ? low : PlaceOf(new Node(level, low, high));

        // Those sets of a family that hold none of another.
        int Without(int family, int other)
        {
            if (family == False || other == True)
                return False;
            if (other == False || family == True)
                return family;
            if (without.TryGetValue((family, other), out var known))
                return known;
            var (level, low, high) = nodes[family];
            var (otherLevel, otherLow, otherHigh) = nodes[other];
            var made =
                level < otherLevel ? Set(level, Without(low, other), Without(high, other))
                : level > otherLevel ? Without(family, otherLow)
                : Set(level, Without(low, otherLow), Without(Without(high, otherHigh), otherLow));
            return without[(family, other)] = made;
        }
    }
}
