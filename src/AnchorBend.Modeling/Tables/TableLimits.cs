using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Tables;

/// <summary>What decision tables and schedules may hold.</summary>
static class TableLimits
{
    const int MostRows = 500,
        MostColumns = 100,
        LongestText = 10_000;

    /// <exception cref="DocumentException">It holds more, or is broken.</exception>
    public static void Check(DecisionTable table)
    {
        if (table.Conditions is null || table.Rules is null)
            throw Missing(table);
        NameLimits.Check(table);
        DocumentLimits.AtMost($"columns in {table.Name}", table.Conditions.Count, MostColumns);
        DocumentLimits.AtMost($"rules in {table.Name}", table.Rules.Count, MostRows);
        foreach (var (id, condition) in table.Conditions)
        {
            if (condition?.Text is null || !PartPath.IsId(id) || !double.IsFinite(condition.Order))
                throw Incomplete(table, "column", id);
            Within(condition.Text);
        }

        foreach (var (id, rule) in table.Rules)
        {
            if (rule?.When is null || rule.Then is null || !PartPath.IsId(id) || !double.IsFinite(rule.Order))
                throw Incomplete(table, "rule", id);
            DocumentLimits.AtMost("cells of a rule", rule.When.Count + rule.Then.Count, 2 * MostColumns + NameLimits.Most);
            foreach (var text in rule.When.Values.Concat(rule.Then.Values).Append(rule.Note ?? ""))
                Within(text ?? throw Incomplete(table, "rule", id));
        }
    }

    /// <exception cref="DocumentException">It holds more, or is broken.</exception>
    public static void Check(ScheduleDefinition schedule)
    {
        if (schedule.Phases is null)
            throw Missing(schedule);
        NameLimits.Check(schedule);
        DocumentLimits.AtMost($"phases in {schedule.Name}", schedule.Phases.Count, MostColumns);
        foreach (var (id, phase) in schedule.Phases)
        {
            if (phase?.Commands is null || string.IsNullOrWhiteSpace(phase.Name) || !PartPath.IsId(id) || !double.IsFinite(phase.Order))
                throw Incomplete(schedule, "phase", id);
            DocumentLimits.Within(phase.Name, DocumentLimits.LongestName, "The name of a phase");
            DocumentLimits.AtMost("cells of a phase", phase.Commands.Count, NameLimits.Most);
            foreach (var text in (string?[])[phase.Lasts, phase.Until])
                Within(text);
            foreach (var command in phase.Commands.Values)
            {
                if (command?.To is null || !Enum.IsDefined(command.Way))
                    throw Incomplete(schedule, "phase", id);
                Within(command.To);
                Within(command.Over);
            }
        }
    }

    static DocumentException Missing(WrittenDefinition of) =>
        new($"A collection of the {of.Noun} '{DocumentLimits.Short(of.Name)}' is null.");

    static DocumentException Incomplete(WrittenDefinition of, string what, string id) =>
        new($"The {what} '{DocumentLimits.Short(id)}' of {of.Name} is incomplete.");

    static void Within(string? text) => DocumentLimits.Within(text, LongestText, "A cell of a table");
}
