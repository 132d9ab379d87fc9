namespace AnchorBend.Workbench.Shelf;

/// <summary>A model as it lies on the shelf.</summary>
/// <param name="Folder">Names of folders with slashes between them; empty where it lies in none.</param>
/// <param name="Author">Who made its last edit; empty where nobody said.</param>
/// <param name="Trashed">When it was put into the trash, in UTC (ISO 8601); null where it was not.</param>
public sealed record ShelfRow(
    string Id,
    string Name,
    string Folder,
    IReadOnlyList<string> Tags,
    string Changed,
    long Revision,
    string Author,
    string? Trashed
);

/// <summary>What is known of a model without opening it.</summary>
/// <param name="Words">Names and descriptions that it is found by, in small letters.</param>
/// <param name="Domains">Physical domains of its parts.</param>
public sealed record CardFacts(string Words, IReadOnlyList<string> Domains);

/// <summary>Keeps where models lie, and the cards that are made of them.</summary>
public interface IShelfStore
{
    /// <summary>All models, lately changed ones first, with those in the trash.</summary>
    IReadOnlyList<ShelfRow> Rows();

    /// <summary>Folders that were made, whether something lies in them or not.</summary>
    IReadOnlyList<string> Folders();

    /// <returns>False where there is no such model.</returns>
    bool Place(string model, string folder, IReadOnlyList<string> tags);

    /// <param name="at">When it went into the trash; null takes it out again.</param>
    /// <returns>False where there is no such model.</returns>
    bool Trash(string model, string? at);

    void PutFolder(string path);

    /// <summary>Renames a folder with all that lies in it and in those within.</summary>
    void MoveFolder(string from, string to);

    /// <summary>Removes a folder and those within; what lies in them lies where the folder lay.</summary>
    void RemoveFolder(string path);

    /// <summary>The present revision of a model; null where there is none.</summary>
    long? Revision(string model);

    /// <summary>Facts of all cards that were made, whichever revision they are of.</summary>
    IReadOnlyDictionary<string, CardFacts> Facts();

    /// <summary>A card of just this revision, made by just this program; null where there is none.</summary>
    string? Card(string key, long revision, string stamp);

    void PutCard(string key, long revision, string stamp, CardFacts facts, string card);
}
