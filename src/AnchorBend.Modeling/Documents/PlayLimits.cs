namespace AnchorBend.Modeling.Documents;

/// <summary>What panels, alerts and faults may hold.</summary>
static class PlayLimits
{
    const int MostPanels = 50,
        MostItems = 200,
        MostChoices = 100,
        MostAlerts = 500,
        MostFaults = 200,
        LongestText = 1000,
        Columns = 12,
        MostRows = 1000;

    public static void Hold(ModelDocument document)
    {
        if (document.Panels is null || document.Alerts is null || document.Faults is null)
            throw new DocumentException("A collection of the document is null.");
        DocumentLimits.AtMost("panels", document.Panels.Count, MostPanels);
        DocumentLimits.AtMost("alerts", document.Alerts.Count, MostAlerts);
        DocumentLimits.AtMost("faults", document.Faults.Count, MostFaults);
        foreach (var (id, panel) in document.Panels)
            Check(id, panel);
        foreach (var (id, alert) in document.Alerts)
        {
            if (alert?.Text is null || alert.Condition is null || !PartPath.IsId(id) || !Enum.IsDefined(alert.Grade))
                throw new DocumentException($"The alert '{DocumentLimits.Short(id)}' is incomplete.");
            foreach (var text in (string?[])[alert.Text, alert.Condition, alert.Inhibit])
                DocumentLimits.Within(text, LongestText, "A text of an alert");
        }

        var names = new HashSet<string>();
        foreach (var (id, fault) in document.Faults)
        {
            if (fault?.Signal is null || string.IsNullOrWhiteSpace(fault.Name) || !PartPath.IsId(id) || !Enum.IsDefined(fault.Kind))
                throw new DocumentException($"The fault '{DocumentLimits.Short(id)}' is incomplete.");
            if (!names.Add(fault.Name))
                throw new DocumentException($"There are two faults '{DocumentLimits.Short(fault.Name)}'.");
            foreach (var text in (string?[])[fault.Name, fault.Signal, fault.Validity, fault.Value, fault.Times])
                DocumentLimits.Within(text, LongestText, "A text of a fault");
        }
    }

    static void Check(string id, PanelNode? panel)
    {
        if (panel?.Items is null || string.IsNullOrWhiteSpace(panel.Name) || !PartPath.IsId(id) || !double.IsFinite(panel.Order))
            throw new DocumentException($"The panel '{DocumentLimits.Short(id)}' is incomplete.");
        DocumentLimits.Within(panel.Name, DocumentLimits.LongestName, "The name of a panel");
        DocumentLimits.AtMost($"items on {panel.Name}", panel.Items.Count, MostItems);
        foreach (var (itemId, item) in panel.Items)
        {
            if (
                item?.Choices is null
                || !PartPath.IsId(itemId)
                || !Enum.IsDefined(item.Kind)
                || !double.IsFinite(item.From ?? 0)
                || !double.IsFinite(item.To ?? 0)
            )
                throw new DocumentException($"Something on {panel.Name} is incomplete.");
            if (
                item.X < 0
                || item.Y < 0
                || item.Width < 1
                || item.Height < 1
                || item.X + item.Width > Columns
                || item.Y + item.Height > MostRows
            )
                throw new DocumentException($"Something on {panel.Name} does not lie on the grid of {Columns} columns.");
            DocumentLimits.AtMost("choices", item.Choices.Count, MostChoices);
            foreach (var text in (string?[])[item.Label, item.Target, item.Second, item.Unit])
                DocumentLimits.Within(text, LongestText, "A text of a panel");
            foreach (var choice in item.Choices)
            {
                if (choice?.Label is null || choice.Value is null)
                    throw new DocumentException($"A choice on {panel.Name} is incomplete.");
                DocumentLimits.Within(choice.Label, LongestText, "A choice");
                DocumentLimits.Within(choice.Value, LongestText, "A choice");
            }
        }
    }
}
