using AnchorBend.Language;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Charts;

/// <summary>
/// A chart as the text of a class in the equation language. A look at the inputs is a macrostep of W3C SCXML (2015), appendix D: microsteps
/// until none is left, each an iteration of one event, as what one sets may let the next begin. Whether a state is active is a discrete
/// variable, so nothing behind this knows of charts.
/// </summary>
static class ChartClass
{
    /// <exception cref="DocumentException">The chart is broken.</exception>
    /// <exception cref="LanguageException">One of its texts cannot be read.</exception>
    public static string Text(ChartDefinition chart) => new ChartWriter(chart).Write();
}
