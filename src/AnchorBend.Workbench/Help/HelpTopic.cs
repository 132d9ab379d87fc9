namespace AnchorBend.Workbench.Help;

/// <summary>A topic in the list of all.</summary>
/// <param name="Id">As addresses name it: guide/levels, findings/unit-clash, part/Gain.</param>
/// <param name="Group">The heading it stands under.</param>
public sealed record HelpEntry(string Id, string Group, string Title);

/// <summary>A topic with what it says.</summary>
/// <param name="Html">Without scripts, styles or frames; what is mathematics stands in elements of the class tex, as markup.</param>
/// <param name="Part">The catalog part that it is about; null for other topics.</param>
public sealed record HelpTopic(string Id, string Group, string Title, string Html, string? Part = null);
