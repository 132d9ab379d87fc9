using System.Text.Json.Serialization;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Catalog;

/// <summary>
/// What tools may do with a part, as its annotation declares it. Tools ask for these and never for a part's name, so that a duplicate or
/// an own part is treated as the original is.
/// </summary>
/// <param name="Terms">Name of the list parameter with an entry for each input, such as the signs of a sum; null where there is
/// none.</param>
/// <param name="TermStyle">sign or factor: how an entry is drawn at its input.</param>
/// <param name="IsProbe">Whether its output is plotted from the start.</param>
/// <param name="Tunable">The kind of controller whose gains can be proposed: pid; null for other parts.</param>
/// <param name="Ends">The physical domain of which the part ends a line; null for others.</param>
/// <param name="EndsAs">What ending a line with it is called.</param>
/// <param name="Zero">Name of the parameter that makes its output a constant, zero among others; null for other parts.</param>
/// <param name="Example">What it does in examples of other parts; null for most.</param>
/// <param name="ChoiceWords">Whether the face shows the words of a choice rather than its name.</param>
/// <param name="DataSheet">The kind of data sheet that its parameters can be computed from; null for other parts.</param>
/// <param name="PulseTest">Whether its tables can be fitted to a measured pulse test.</param>
/// <param name="Preview">The kind of picture in three dimensions that its parameters give; null for most.</param>
/// <param name="Derived">Names of its own parameters that follow from the typed ones and are shown with them.</param>
/// <param name="Results">Names of its own variables that are shown as what it came to.</param>
/// <param name="Sizes">Names of parameters that can be found for a wanted duty.</param>
public sealed record PartTraits(
    string? Terms,
    string? TermStyle,
    bool IsProbe,
    string? Tunable,
    string? Ends,
    string? EndsAs,
    string? Zero,
    bool ChoiceWords,
    string? DataSheet,
    bool PulseTest,
    string? Preview,
    IReadOnlyList<string> Derived,
    IReadOnlyList<string> Results,
    IReadOnlyList<string> Sizes,
    [property: JsonIgnore] ExampleRole? Example,
    [property: JsonIgnore] SceneRole? Scene
)
{
    /// <summary>In whose directions shapes stand on the part in the scene, plane or space; null where it carries none.</summary>
    public string? Shapes =>
        Scene?.Kind switch
        {
            "body" or "ground" or "wheel" => "plane",
            "space" or "frame" => "space",
            _ => null,
        };

    internal static PartTraits Of(Modification? annotation)
    {
        string? Text(string name) => (annotation?.Argument(name)?.Value.Binding as StringLiteral)?.Value;
        IReadOnlyList<string> List(string name) => Text(name)?.Split(' ', StringSplitOptions.RemoveEmptyEntries) ?? [];
        bool Has(string name) => annotation?.Argument(name)?.Value.Binding is BooleanLiteral { Value: true };
        return new PartTraits(
            Text("terms"),
            Text("termStyle"),
            Has("probe"),
            Text("tunable"),
            Text("ends"),
            Text("endsAs"),
            Text("zero"),
            Has("choiceWords"),
            Text("dataSheet"),
            Has("pulseTest"),
            Text("preview"),
            List("derived"),
            List("results"),
            List("sizes"),
            annotation?.Argument("example") is { } example ? ExampleRole.Of(example.Value) : null,
            annotation?.Argument("scene") is { } scene ? SceneRole.Of(scene.Value) : null
        );
    }
}
