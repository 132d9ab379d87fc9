namespace AnchorBend.Modeling.Documents;

/// <summary>A study: what varies in many runs, in which combinations, and what is looked for.</summary>
public sealed record StudyNode
{
    public required string Name { get; init; }

    public string? Description { get; init; }

    /// <summary>Its place among the studies; smaller stands further up.</summary>
    public double Order { get; init; }

    public Dictionary<string, StudyFactorNode> Factors { get; init; } = [];

    public StudyDesignNode Design { get; init; } = new();

    /// <summary>What must hold between factors, as conditions over their names; rows that break one are left out.</summary>
    public IReadOnlyList<string> Conditions { get; init; } = [];

    /// <summary>Rows made by hand, behind those of the design.</summary>
    public IReadOnlyList<StudyRowNode> Rows { get; init; } = [];

    /// <summary>Numbers of rows that are not run.</summary>
    public IReadOnlyList<int> Off { get; init; } = [];

    /// <summary>The share of runs that shall meet every requirement; null where nobody asks.</summary>
    public double? WantedYield { get; init; }

    /// <summary>What is searched for instead of going through a design; null for none.</summary>
    public StudySearchNode? Search { get; init; }

    /// <summary>Of which signals each run keeps the course beside its figures: sheets (those of the plot sheets), all, or none.</summary>
    public string Keeps { get; init; } = "sheets";

    /// <summary>Charts of its results, filled again by each of its runs.</summary>
    public Dictionary<string, StudyChartNode> Charts { get; init; } = [];
}

/// <summary>What varies.</summary>
public sealed record StudyFactorNode
{
    /// <summary>A parameter by identity (<see cref="SignalReference"/>), one of the model itself by name, or a setting of runs:
    /// <c>#end</c>, <c>#stimulus</c>, <c>#point</c>, <c>#fault:</c> with the fault's id.</summary>
    public required string Target { get; init; }

    /// <summary>Its values, as typed: a list, a range, or a distribution.</summary>
    public string Values { get; init; } = "";

    /// <summary>Its place among the factors.</summary>
    public double Order { get; init; }

    /// <summary>Whether it is drawn anew for every run, as a tolerance, instead of being gone through.</summary>
    public bool IsDrawn { get; init; }
}

/// <summary>In which combinations factors are gone through.</summary>
public sealed record StudyDesignNode
{
    /// <summary>grid, one, random, latin, sobol, shares (for shares of variance), or own for rows by hand alone.</summary>
    public string Kind { get; init; } = "grid";

    /// <summary>How many rows, where they are drawn.</summary>
    public int Runs { get; init; } = 100;

    public ulong Seed { get; init; } = 1;

    /// <summary>How many runs each row has, where factors are drawn as tolerances.</summary>
    public int Draws { get; init; } = 1;

    /// <summary>Whether the model's tolerances are drawn beside the factors.</summary>
    public bool HasTolerances { get; init; }

    /// <summary>When it ends: all (with the last row), decided (as soon as the wanted share is surely reached or missed), or known (as soon
    /// as the share is known to within <see cref="Within"/> on either side).</summary>
    public string Ending { get; init; } = "all";

    public double Within { get; init; } = 0.02;
}

/// <summary>A row by hand: values by factor, as typed.</summary>
public sealed record StudyRowNode
{
    public Dictionary<string, string> Values { get; init; } = [];
}

/// <summary>A search for the best or the worst.</summary>
public sealed record StudySearchNode
{
    /// <summary>What is made least: a measure's expression, several of them with weights, or, for the worst case, nothing.</summary>
    public string Goal { get; init; } = "";

    /// <summary>Whether requirements are kept while the goal is made least.</summary>
    public bool KeepsRequirements { get; init; } = true;

    /// <summary>The requirement whose margin is made least, for a worst case; all of them where it is empty; null for a best.</summary>
    public string? Worst { get; init; }

    /// <summary>What a run shall come to, as rules say it, in the place of a requirement that it shall miss; null for none.</summary>
    public string? Reach { get; init; }

    /// <summary>auto, simplex, covariance, differential or newton; or cutsets for the least sets of faults that make it missed.</summary>
    public string Method { get; init; } = "auto";

    /// <summary>What each attempt has to stand, in as many runs, of which the worst counts: nominal (one run as it is), corners (all
    /// combinations of the ends of what is drawn, and of the values of drawn lists), or draws (as many draws as the design says).</summary>
    public string Under { get; init; } = "nominal";

    /// <summary>How many faults come together at most, in a search for sets of them.</summary>
    public int Order { get; init; } = 2;

    /// <summary>Whether a worst case is enough that misses its requirement.</summary>
    public bool EndsWhenMissed { get; init; }

    /// <summary>How many runs it may take.</summary>
    public int Runs { get; init; } = 200;

    public ulong Seed { get; init; } = 1;
}

/// <summary>A chart of a study's results.</summary>
public sealed record StudyChartNode
{
    /// <summary>scatter, histogram, box, map, matrix, parallel, weights or tornado.</summary>
    public string Kind { get; init; } = "scatter";

    public double Order { get; init; }

    /// <summary>What stands along the bottom: a column of the results.</summary>
    public string X { get; init; } = "";

    public string Y { get; init; } = "";

    /// <summary>The third column, of maps.</summary>
    public string? Z { get; init; }

    /// <summary>Columns, of charts of many.</summary>
    public IReadOnlyList<string> Columns { get; init; } = [];

    /// <summary>none, line, square, cubic, power or smooth.</summary>
    public string Fit { get; init; } = "none";
}
