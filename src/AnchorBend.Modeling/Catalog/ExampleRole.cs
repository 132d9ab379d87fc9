using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Catalog;

/// <summary>
/// What a part does in the small models that show others at work, as its annotation says under <c>example</c>: give way to them (load),
/// hold their far end at something (drive), be moved by them (moves), feed their inputs (feeds), join vectors for them (joins).
/// </summary>
/// <param name="Near">Port towards the part that is shown.</param>
/// <param name="Far">The other port; null where there is none.</param>
/// <param name="Size">Parameter for the size of a signal, or how many are joined.</param>
/// <param name="Swing">Parameter for how far a signal swings about its size.</param>
/// <param name="Rate">Parameter for how often it swings.</param>
/// <param name="Period">Parameter for the time between two switchings.</param>
/// <param name="Apart">Parameter for its place where another one stands at the first port of the domain already.</param>
/// <param name="Set">Parameters that are always set, as they are typed.</param>
public sealed record ExampleRole(
    string? Near,
    string? Far,
    string? Size,
    string? Swing,
    string? Rate,
    string? Period,
    string? Apart,
    IReadOnlyDictionary<string, string> Set
)
{
    internal static ExampleRole Of(Modification annotation)
    {
        string? Text(string name) => (annotation.Argument(name)?.Value.Binding as StringLiteral)?.Value;
        var set = annotation.Argument("set")?.Value.Arguments ?? [];
        return new ExampleRole(
            Text("near"),
            Text("far"),
            Text("size"),
            Text("swing"),
            Text("rate"),
            Text("period"),
            Text("apart"),
            set.Where(a => a.Value.Binding is StringLiteral).ToDictionary(a => a.Name, a => ((StringLiteral)a.Value.Binding!).Value)
        );
    }
}
