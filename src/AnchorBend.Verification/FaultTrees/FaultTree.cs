namespace AnchorBend.Verification.FaultTrees;

/// <summary>What is wrong with a tree, and where.</summary>
public sealed class FaultTreeException(string message) : Exception(message);

/// <summary>A place of a fault tree: a basic event, or a gate over others.</summary>
public abstract record TreePlace(string Id);

/// <param name="Probability">That it has happened, from 0 to 1.</param>
public sealed record BasicEvent(string Id, double Probability) : TreePlace(Id);

/// <summary>It comes about where at least so many of its inputs do: 1 is or, all is and.</summary>
public sealed record Gate(string Id, int Least, IReadOnlyList<TreePlace> Inputs) : TreePlace(Id);

/// <summary>A basic event's part in the top event.</summary>
/// <param name="Birnbaum">How much more probable the top event is where it has happened than where it has not.</param>
/// <param name="Share">The share of the top event that goes where it cannot happen: its criticality, Birnbaum · p / P.</param>
/// <param name="Achievement">How many times as probable the top event is where it has happened.</param>
public sealed record Importance(string Event, double Birnbaum, double Share, double Achievement);

/// <summary>A least set of events that brings about the top event, with the probability that all of them have happened.</summary>
public sealed record CutSet(IReadOnlyList<string> Events, double Probability);

/// <summary>What a tree comes to.</summary>
/// <param name="Probability">Of the top event, exact for independent basic events.</param>
/// <param name="CutSets">The most probable first, as many as are told.</param>
/// <param name="Count">How many there are in all.</param>
public sealed record TreeFigures(double Probability, IReadOnlyList<CutSet> CutSets, double Count, IReadOnlyList<Importance> Importances);
