using AnchorBend.Simulation.Events;

namespace AnchorBend.Simulation.Recording;

/// <summary>What a run leaves for its readers; it goes on through pauses, changed values and other choices of states.</summary>
sealed class RunRecord(IReadOnlyList<int> variables) : IDisposable
{
    public Trace Trace { get; } = new(variables);

    public RunProfile Profile { get; } = new();

    public EventLog Log => log ??= new EventLog(Profile);

    EventLog? log;

    /// <summary>Where the states began.</summary>
    public IReadOnlyList<StartEntry> Start { get; set; } = [];

    /// <summary>Time spent before the present stretch, in s.</summary>
    public double Spent { get; set; }

    /// <summary>Only where nobody is given the trace.</summary>
    public void Dispose() => Trace.Dispose();
}
