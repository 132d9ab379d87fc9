namespace AnchorBend.Workbench.Runs;

/// <summary>A state or a transition of a chart at which a played run pauses.</summary>
/// <param name="Chart">The chart's part by ids from the root.</param>
/// <param name="Item">Id of the state or transition.</param>
/// <param name="When">entry or exit, of a state.</param>
public sealed record ChartStop(string Chart, string Item, string? When);
