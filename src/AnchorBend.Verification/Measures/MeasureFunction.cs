namespace AnchorBend.Verification.Measures;

/// <summary>A function of a signal that measures may use.</summary>
/// <param name="Form">How it is called, for completion.</param>
/// <param name="Meaning">One line for people; docs/measures.md defines it exactly.</param>
/// <param name="Named">Arguments of its own that are given by name; all take the window too.</param>
public sealed record MeasureFunction(string Name, string Form, string Meaning, IReadOnlyList<string> Named)
{
    /// <summary>Names of the arguments that bound the window of any function.</summary>
    public static readonly IReadOnlyList<string> Window = ["from", "to", "while"];

    public static readonly IReadOnlyList<MeasureFunction> All =
    [
        new("minimum", "minimum(signal)", "the lowest value, and when", []),
        new("maximum", "maximum(signal)", "the highest value, and when", []),
        new("mean", "mean(signal)", "the integral over the time it takes", []),
        new("rms", "rms(signal)", "the root of the mean square", []),
        new("integral", "integral(signal)", "the integral over time", []),
        new("final", "final(signal)", "the value at the end of the window", []),
        new("at", "at(signal, instant)", "the value at an instant", []),
        new("first", "first(condition)", "the instant at which it first holds; of a signal, its first value", []),
        new("last", "last(condition)", "the last instant at which it holds; of a signal, its last value", []),
        new("duration", "duration(condition)", "the time for which it holds, all in all", []),
        new("count", "count(condition)", "how often it comes to hold", []),
        new("crossing", "crossing(signal, level)", "the instant at which it crosses a level", ["level", "number", "direction"]),
        new("risetime", "risetime(signal)", "from 10 % to 90 % of the step", ["target", "low", "high"]),
        new("settling", "settling(signal)", "until it stays in the band about its goal", ["target", "band"]),
        new("overshoot", "overshoot(signal)", "how far it goes beyond its goal, in % of the step", ["target"]),
        new("peaktopeak", "peaktopeak(signal)", "highest less lowest value", []),
        new("frequency", "frequency(signal)", "how often it rises through its mean, per second", ["level"]),
    ];

    public static MeasureFunction? Find(string name) => All.FirstOrDefault(f => f.Name == name);
}
