using AnchorBend.Language.Terms;
using AnchorBend.Simulation;

namespace AnchorBend.Workbench.Coverage;

/// <summary>How often something in the text of a part came out each way in a run.</summary>
/// <param name="Owner">Path of the instance; empty for the model itself.</param>
/// <param name="Type">The class, or the function, in whose text it stands.</param>
/// <param name="No">How often it did not hold.</param>
/// <param name="Yes">How often it held; of assignments how often they were made.</param>
/// <param name="Down">Of relations: how often they came not to hold any more.</param>
/// <param name="Up">How often they came to hold.</param>
public sealed record GoalCount(
    string Owner,
    string Type,
    int Line,
    int Column,
    OriginKind Kind,
    long No,
    long Yes,
    long Down = 0,
    long Up = 0
);

/// <summary>The ways in which several conditions came out together in a run.</summary>
/// <param name="Ways">Of each condition T, F or - where it was not asked, last what came of them; with how often.</param>
public sealed record VectorCount(string Owner, string Type, int Line, int Column, int Conditions, IReadOnlyDictionary<string, long> Ways);

/// <summary>How often a table was read in each of its intervals in a run.</summary>
/// <param name="Counts">One less than there are knots.</param>
public sealed record TableCount(string Owner, string Type, int Line, int Column, IReadOnlyList<double> Knots, IReadOnlyList<long> Counts);

/// <summary>What the code of a run has counted, by places in the texts of parts.</summary>
public sealed record RunCounts(IReadOnlyList<GoalCount> Places, IReadOnlyList<VectorCount> Vectors, IReadOnlyList<TableCount> Tables)
{
    /// <param name="outside">What stands before the names of owners.</param>
    public static RunCounts Of(Tally tally, string outside) =>
        new(
            [
                .. tally.Places.Select(t => new GoalCount(
                    outside + t.Origin.Owner,
                    t.Origin.Type,
                    t.Origin.At.Line,
                    t.Origin.At.Column,
                    t.Origin.Kind,
                    t.No,
                    t.Yes,
                    t.Down,
                    t.Up
                )),
            ],
            [
                .. tally.Vectors.Select(t => new VectorCount(
                    outside + t.Origin.Owner,
                    t.Origin.Type,
                    t.Origin.At.Line,
                    t.Origin.At.Column,
                    t.Conditions,
                    t.Seen.ToDictionary(s => s.Ways + (s.Outcome ? 'T' : 'F'), s => s.Count)
                )),
            ],
            [
                .. tally
                    .Tables.Where(t => t.Knots.All(double.IsFinite))
                    .Select(t => new TableCount(
                        outside + t.Origin.Owner,
                        t.Origin.Type,
                        t.Origin.At.Line,
                        t.Origin.At.Column,
                        t.Knots,
                        // Outside of its knots there is nothing of the table.
                        [.. t.Counts.Skip(1).Take(t.Knots.Count - 1)]
                    )),
            ]
        );
}
