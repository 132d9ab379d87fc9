using AnchorBend.Language.Terms;

namespace AnchorBend.Workbench.Coverage;

/// <summary>How often something in the text of a part came out each way in a run.</summary>
/// <param name="Owner">Path of the instance; empty for the model itself.</param>
/// <param name="Type">The class, or the function, in whose text it stands.</param>
/// <param name="No">How often it did not hold.</param>
/// <param name="Yes">How often it held; of assignments how often they were made.</param>
public sealed record GoalCount(string Owner, string Type, int Line, int Column, OriginKind Kind, long No, long Yes)
{
    /// <param name="outside">What stands before the names of owners.</param>
    public static IReadOnlyList<GoalCount> Of(IEnumerable<(Origin Origin, long No, long Yes)> tally, string outside) =>
        [.. tally.Select(t => Of(t.Origin, t.No, t.Yes, outside))];

    static GoalCount Of(Origin origin, long no, long yes, string outside) =>
        new(outside + origin.Owner, origin.Type, origin.At.Line, origin.At.Column, origin.Kind, no, yes);
}
