namespace AnchorBend.Exploration;

/// <summary>A study that makes no sense, with what to try.</summary>
public sealed class ExplorationException(string code, string message, string advice) : Exception(message)
{
    public string Code { get; } = code;

    public string Advice { get; } = advice;
}
