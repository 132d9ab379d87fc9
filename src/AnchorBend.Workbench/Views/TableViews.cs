using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Tables;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Workbench.Views;

/// <summary>Decision tables and schedules as the interface shows them.</summary>
static class TableViews
{
    /// <returns>Null for what is no table.</returns>
    public static TableView? Of(WrittenDefinition definition) =>
        definition switch
        {
            DecisionTable table => new TableView(table.Applies(), WordsOf(table)),
            ScheduleDefinition schedule => new TableView(Active(schedule), WordsOf(schedule)),
            _ => null,
        };

    static IReadOnlyDictionary<string, string> Active(ScheduleDefinition schedule)
    {
        try
        {
            return schedule.Active();
        }
        catch (DocumentException)
        {
            // The class that it comes to tells it.
            return new Dictionary<string, string>();
        }
    }

    /// <summary>By name, the words that its values stand for; only for names of words.</summary>
    public static Dictionary<string, IReadOnlyList<string>> WordsOf(WrittenDefinition definition) =>
        definition
            .Names.Values.Select(n => (n.Name, Words: Words.Of(n.Type)))
            .Where(n => n.Words.Count > 0)
            .ToDictionary(n => n.Name, n => n.Words);
}
