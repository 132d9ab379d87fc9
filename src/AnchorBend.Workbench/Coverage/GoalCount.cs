using AnchorBend.Language.Terms;

namespace AnchorBend.Workbench.Coverage;

/// <summary>How often something in the text of a part came out each way in a run.</summary>
/// <param name="Owner">Path of the instance; empty for the model itself.</param>
/// <param name="Type">The class, or the function, in whose text it stands.</param>
/// <param name="No">How often it did not hold.</param>
/// <param name="Yes">How often it held; of assignments how often they were made.</param>
public sealed record GoalCount(string Owner, string Type, int Line, int Column, OriginKind Kind, long No, long Yes)
{
    public static IReadOnlyList<GoalCount> Of(IEnumerable<(Origin Origin, long No, long Yes)> tally) =>
        [
            .. tally.Select(t => new GoalCount(
                t.Origin.Owner,
                t.Origin.Type,
                t.Origin.At.Line,
                t.Origin.At.Column,
                t.Origin.Kind,
                t.No,
                t.Yes
            )),
        ];
}
