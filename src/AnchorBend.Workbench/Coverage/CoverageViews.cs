namespace AnchorBend.Workbench.Coverage;

/// <summary>One side of something that can come out both ways, or a thing that can be reached.</summary>
/// <param name="Side">yes, no, up, down, reached, or which of several conditions or intervals.</param>
/// <param name="Words">What has not been seen, where it has not.</param>
/// <param name="Count">How often it was, in all cases.</param>
/// <param name="Only">The id of the one case that came by it; null where several did, or none.</param>
/// <param name="Justification">The id of what somebody wrote of it; null where nobody did.</param>
public sealed record CoverageSide(string Side, string Words, long Count, string? Only, string? Justification)
{
    /// <summary>What a run must come to to see it, as rules say it; null where it was seen, or nobody can say that.</summary>
    public string? Reach { get; init; }
}

/// <summary>Something that the cases should come by.</summary>
/// <param name="Key">It stays the same while its part and its text do.</param>
/// <param name="Kind">decision, condition, border, modified condition/decision, when clause, statement, table interval, state,
/// transition, transition pair or alternative.</param>
/// <param name="Part">The part that it belongs to, by ids from the root down; empty for the model itself.</param>
/// <param name="Name">That part as people call it.</param>
/// <param name="Text">As it is written, or called.</param>
/// <param name="Type">The class in whose text it stands; empty for what stands in none.</param>
public sealed record CoveragePoint(
    string Key,
    string Kind,
    string Part,
    string Name,
    string Text,
    string Type,
    int Line,
    IReadOnlyList<CoverageSide> Sides
)
{
    /// <summary>What it is of in a chart or another form: the id of its state, transition, rule or phase; null for others.</summary>
    public string? Item { get; init; }

    /// <summary>Where it stands, as people say it; empty for what stands in no text.</summary>
    public string Place { get; init; } = "";
}

/// <summary>Sides of one kind, or of one part.</summary>
/// <param name="Justified">Those that no case came by, with reasons in writing.</param>
public sealed record CoverageTotal(string Key, string Name, int Covered, int Justified, int Total);

/// <summary>Something that somebody wrote of a place that is not there any more.</summary>
public sealed record LostJustification(string Id, string Goal, string Reason);

/// <summary>What the cases of a model have come by, in runs of the model as it is now.</summary>
/// <param name="Cases">How many cases count.</param>
/// <param name="Stale">How many do not, as their results are out of date or missing.</param>
public sealed record CoverageView(
    long Revision,
    int Cases,
    int Stale,
    IReadOnlyList<CoverageTotal> Kinds,
    IReadOnlyList<CoverageTotal> Parts,
    IReadOnlyList<CoveragePoint> Points,
    IReadOnlyList<LostJustification> Lost
);
