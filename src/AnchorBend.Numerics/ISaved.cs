namespace AnchorBend.Numerics;

/// <summary>A part of a run that remembers something from step to step: it saves and restores itself, so that a pause forgets
/// nothing.</summary>
public interface ISaved
{
    /// <summary>Exchanges everything it remembers, in one order for both directions.</summary>
    void Transfer(StateArchive archive);
}
