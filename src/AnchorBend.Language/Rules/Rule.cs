namespace AnchorBend.Language.Rules;

/// <summary>A temporal condition on signals (<see cref="RuleParser"/>).</summary>
public abstract record Rule;

/// <summary>A comparison or a truth at an instant.</summary>
/// <param name="Text">As it was written.</param>
/// <param name="Start">Where it stands in the whole text.</param>
public sealed record State(string Text, int Start) : Rule;

public sealed record Not(Rule Of) : Rule;

public sealed record Both(Rule First, Rule Second) : Rule;

public sealed record Either(Rule First, Rule Second) : Rule;

/// <summary>At every instant from now on for so long.</summary>
/// <param name="For">As typed; null until the run ends.</param>
public sealed record Always(Rule Of, string? For) : Rule;

/// <summary>At some instant from now on within so long.</summary>
/// <param name="Within">As typed; null until the run ends.</param>
public sealed record Eventually(Rule Of, string? Within) : Rule;

/// <summary>The first holds until the second does, which it does, within so long.</summary>
public sealed record Until(Rule First, Rule Second, string? Within) : Rule;

/// <summary>From the first instant on at which something holds.</summary>
public sealed record After(Rule Event, Rule Then) : Rule;

/// <summary>Each time that something begins to hold.</summary>
public sealed record Whenever(Rule Event, Rule Then) : Rule;
