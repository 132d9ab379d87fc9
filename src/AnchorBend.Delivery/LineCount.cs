using System.Text.Json.Nodes;

namespace AnchorBend.Delivery;

/// <summary>How often a line of code has run.</summary>
/// <param name="Line">From 1.</param>
/// <param name="Ways">Outcomes of all conditions that stand on it.</param>
/// <param name="Reached">Those that came about.</param>
public sealed record LineCount(int Line, long Count, int Ways, int Reached)
{
    static readonly TimeSpan MostReading = TimeSpan.FromSeconds(20);

    /// <summary>Of a source whose program was compiled to count and has run, as gcov reads it: the compiler's own counters.</summary>
    internal static IReadOnlyList<LineCount> Of(string folder, string source, CancellationToken wanted)
    {
        var counts = Path.ChangeExtension(source, ".gcda");
        var (code, said) = NativeCode.Run(
            "gcov",
            ["--json-format", "--stdout", "--branch-probabilities", counts],
            folder,
            MostReading,
            wanted
        );
        var start = said.IndexOf('{', StringComparison.Ordinal);
        if (code != 0 || start < 0 || JsonNode.Parse(said[start..(said.LastIndexOf('}') + 1)]) is not JsonObject read)
            throw new DeliveryException("counts", "The counts of the code cannot be read.", "Install gcov, which comes with gcc.");
        return
        [
            .. (read["files"] as JsonArray ?? [])
                .Where(f => f?["file"]?.GetValue<string>() == source)
                .SelectMany(f => f!["lines"]!.AsArray())
                .GroupBy(l => l!["line_number"]!.GetValue<int>())
                .OrderBy(g => g.Key)
                .Select(g =>
                {
                    var ways = g.SelectMany(l => l!["branches"]!.AsArray()).Select(b => b!["count"]!.GetValue<long>()).ToList();
                    return new LineCount(g.Key, g.Max(l => l!["count"]!.GetValue<long>()), ways.Count, ways.Count(w => w > 0));
                }),
        ];
    }
}
