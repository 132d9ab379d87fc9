using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Charts;

/// <summary>
/// A chart as the text of a class in the equation language. A look at the inputs is a macrostep of W3C SCXML (2015), appendix D: microsteps
/// until none is left, each an iteration of one event, as what one sets may let the next begin. Whether a state is active is a discrete
/// variable, so nothing behind this knows of charts.
/// </summary>
/// <param name="Text">Null where the chart cannot be written.</param>
/// <param name="Definition">Null where something is wrong in it.</param>
sealed record ChartClass(string? Text, ClassDefinition? Definition, IReadOnlyList<LanguageError> Errors)
{
    public static ChartClass Of(ChartDefinition chart)
    {
        try
        {
            var text = new ChartWriter(chart).Write();
            var (parsed, errors) = Parser.ParseFile(text);
            return new ChartClass(text, errors.Count == 0 ? parsed[0] : null, errors);
        }
        catch (LanguageException e)
        {
            return new ChartClass(null, null, [e.Error]);
        }
        catch (DocumentException e)
        {
            return new ChartClass(null, null, [new LanguageError("chart", e.Message, default, null)]);
        }
    }
}
