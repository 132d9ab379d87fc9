using AnchorBend.Compiler.Emission;
using AnchorBend.Language.Terms;

namespace AnchorBend.Simulation;

/// <summary>How often something came out each way, or was done.</summary>
/// <param name="No">How often it did not hold.</param>
/// <param name="Yes">How often it held; of assignments how often they were made.</param>
/// <param name="Down">Of relations: how often it came not to hold any more.</param>
/// <param name="Up">How often it came to hold.</param>
public sealed record TalliedPlace(Origin Origin, long No, long Yes, long Down, long Up);

/// <summary>A way in which several conditions came out together.</summary>
/// <param name="Ways">Of each condition: T, F, or - where it was not asked, as another had decided.</param>
public sealed record TalliedVector(string Ways, bool Outcome, long Count);

public sealed record TalliedVectors(Origin Origin, int Conditions, IReadOnlyList<TalliedVector> Seen);

/// <summary>How often a table was read before its first knot, in each interval, and behind its last knot.</summary>
public sealed record TalliedTable(Origin Origin, IReadOnlyList<double> Knots, IReadOnlyList<long> Counts);

/// <summary>What a run has come by.</summary>
public sealed record Tally(IReadOnlyList<TalliedPlace> Places, IReadOnlyList<TalliedVectors> Vectors, IReadOnlyList<TalliedTable> Tables)
{
    internal static Tally Of(CompiledPlan compiled, ReadOnlySpan<double> memory)
    {
        var places = new List<TalliedPlace>();
        foreach (var c in compiled.Counters)
            places.Add(
                new TalliedPlace(
                    c.Origin,
                    (long)memory[c.Place],
                    (long)memory[c.Place + 1],
                    c.CountsTurns ? (long)memory[c.Place + 3] : 0,
                    c.CountsTurns ? (long)memory[c.Place + 4] : 0
                )
            );
        var vectors = new List<TalliedVectors>();
        foreach (var v in compiled.Vectors)
        {
            var seen = new List<TalliedVector>();
            var count = (int)Math.Pow(3, v.Conditions);
            for (var way = 0; way < count; way++)
            for (var outcome = 0; outcome < 2; outcome++)
                if ((long)memory[v.Place + 2 * way + outcome] is > 0 and var times)
                    seen.Add(new TalliedVector(Ways(way, v.Conditions), outcome == 1, times));
            vectors.Add(new TalliedVectors(v.Origin, v.Conditions, seen));
        }

        var tables = new List<TalliedTable>();
        foreach (var t in compiled.Tables)
            tables.Add(
                new TalliedTable(
                    t.Origin,
                    memory.Slice(t.Knots, t.Count).ToArray(),
                    Array.ConvertAll(memory.Slice(t.Place, t.Count + 1).ToArray(), c => (long)c)
                )
            );
        return new Tally(places, vectors, tables);
    }

    static string Ways(int way, int conditions) => string.Create(conditions, way, (text, left) =>
        {
            for (var i = 0; i < text.Length; i++, left /= 3)
                text[i] = "-FT"[left % 3];
        });
}
