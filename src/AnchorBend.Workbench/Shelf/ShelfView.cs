namespace AnchorBend.Workbench.Shelf;

/// <summary>A model in the list of all.</summary>
/// <param name="Domains">Physical domains of its parts, as far as they are known.</param>
/// <param name="Runs">How many of its runs are kept.</param>
/// <param name="Studies">Its studies that have run or are running, the newest first.</param>
public sealed record ShelfEntry(
    string Id,
    string Name,
    string Folder,
    IReadOnlyList<string> Tags,
    string Changed,
    long Revision,
    string Author,
    string? Trashed,
    IReadOnlyList<string> Domains,
    int Runs,
    IReadOnlyList<ShelfStudy> Studies
);

/// <summary>How far a study has come.</summary>
/// <param name="State">running, paused, stopped or finished.</param>
public sealed record ShelfStudy(string Name, string State, int Done, int Rows);

/// <summary>The models that were looked for, and all folders and tags that there are.</summary>
/// <param name="InTrash">How many models lie in the trash.</param>
/// <param name="TrashDays">How long they are kept there.</param>
public sealed record ShelfView(
    IReadOnlyList<ShelfEntry> Models,
    IReadOnlyList<string> Folders,
    IReadOnlyList<string> Tags,
    int InTrash,
    int TrashDays
);
