namespace AnchorBend.Modeling.Documents;

/// <summary>
/// A test case: how the model is run, and what has to come out. It changes nothing of the model; what it sets holds in its own run.
/// </summary>
public sealed record CaseNode
{
    public required string Name { get; init; }

    public string? Description { get; init; }

    /// <summary>Its place among the cases; smaller stands further up.</summary>
    public double Order { get; init; }

    /// <summary>Id of the group that it belongs to; null for none.</summary>
    public string? Group { get; init; }

    /// <summary>Words by which cases are found and chosen.</summary>
    public IReadOnlyList<string> Tags { get; init; } = [];

    /// <summary>The part that is run alone (<see cref="PartPath"/>); null for the whole model. Inputs of it that the stimulus drives are
    /// named as in the whole model.</summary>
    public string? Subject { get; init; }

    /// <summary>Id of the stimulus; empty for none, null for that of the run settings.</summary>
    public string? Stimulus { get; init; }

    /// <summary>Id of the operating point at which it begins; empty for the start values, null for that of the run settings.</summary>
    public string? Point { get; init; }

    /// <summary>End of the run as typed; null for that of the run settings.</summary>
    public string? End { get; init; }

    /// <summary>Short name of the integration method; null for that of the run settings.</summary>
    public string? Method { get; init; }

    /// <summary>Step of a fixed-step method as typed; null for that of the run settings.</summary>
    public string? Step { get; init; }

    /// <summary>What else it sets, by id: parameters, columns of sheets, alternatives, faults.</summary>
    public Dictionary<string, CaseValueNode> Values { get; init; } = [];

    /// <summary>Ids of the requirements that it checks; null for all that its run decides.</summary>
    public IReadOnlyList<string>? Requirements { get; init; }

    /// <summary>Courses that signals have to follow, by id.</summary>
    public Dictionary<string, ExpectedNode> Expected { get; init; } = [];

    /// <summary>Measures that have to lie within limits, by id.</summary>
    public Dictionary<string, HeldMeasureNode> Measures { get; init; } = [];
}

/// <summary>Something that a case sets.</summary>
public sealed record CaseValueNode
{
    /// <summary>As the target of a factor of a study (<see cref="StudyFactorNode.Target"/>).</summary>
    public required string Target { get; init; }

    public string Text { get; init; } = "";

    public double Order { get; init; }
}

/// <summary>Cases that belong together, with what is set for all of them: it holds in their runs and nowhere else.</summary>
public sealed record CaseGroupNode
{
    public required string Name { get; init; }

    public string? Description { get; init; }

    public double Order { get; init; }

    /// <summary>What is set before what each case sets, by id.</summary>
    public Dictionary<string, CaseValueNode> Values { get; init; } = [];
}

/// <summary>
/// A course that a signal has to follow. At every instant it may differ by the absolute tolerance and by the relative one of the expected
/// value; a tolerance in time lets it have any value that is allowed so much earlier or later. Bands, where given, say the limits outright.
/// </summary>
public sealed record ExpectedNode
{
    public const int MostPoints = 20_000;

    /// <summary>The signal (<see cref="SignalReference"/>).</summary>
    public required string Signal { get; init; }

    /// <summary>Unit of the values and of the absolute tolerance; without one that in which the model computes.</summary>
    public string? Unit { get; init; }

    /// <summary>Whether each value holds until the next instant, instead of straight lines between them.</summary>
    public bool IsHeld { get; init; }

    /// <summary>Rising instants, s; two of one instant are a jump.</summary>
    public IReadOnlyList<double> Times { get; init; } = [];

    public IReadOnlyList<double> Values { get; init; } = [];

    /// <summary>Lower and upper limits at the instants; empty where tolerances say them.</summary>
    public IReadOnlyList<double> Lower { get; init; } = [];

    public IReadOnlyList<double> Upper { get; init; } = [];

    public double Absolute { get; init; }

    /// <summary>As a fraction of the expected value.</summary>
    public double Relative { get; init; }

    /// <summary>In time, s.</summary>
    public double Time { get; init; }
}

/// <summary>A measure that has to lie within limits, as typed; null for none on that side.</summary>
public sealed record HeldMeasureNode
{
    /// <summary>Id of the measure.</summary>
    public required string Measure { get; init; }

    public string? AtLeast { get; init; }

    public string? AtMost { get; init; }
}

/// <summary>Why something that no case came by needs none.</summary>
public sealed record JustificationNode
{
    /// <summary>What it is of: the part, the class and the text that it stands in. Where one of them changes it is of nothing.</summary>
    public required string Goal { get; init; }

    /// <summary>yes, no or reached.</summary>
    public required string Side { get; init; }

    public string Reason { get; init; } = "";

    /// <summary>Who says so.</summary>
    public string By { get; init; } = "";

    /// <summary>When, as year, month and day.</summary>
    public string Date { get; init; } = "";
}
