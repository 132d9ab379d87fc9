namespace AnchorBend.Workbench.People;

/// <summary>What somebody may do with a model, each with what stands before it.</summary>
public enum Access
{
    None,

    /// <summary>Look at it and run it.</summary>
    View,

    /// <summary>Change it, and keep what was run.</summary>
    Edit,

    /// <summary>Delete it, and move it to where others may do more or less.</summary>
    Administer,
}

/// <summary>Whom a piece of work is done for.</summary>
public interface IVisitor
{
    /// <summary>Id of the account.</summary>
    string Account { get; }

    /// <summary>As the history names them.</summary>
    string Name { get; }

    bool IsAdministrator { get; }

    Access Of(string model);

    /// <summary>Whether they made it.</summary>
    bool Owns(string model);

    /// <summary>What of a folder; empty for all that lies in none.</summary>
    Access OfFolder(string folder);
}

/// <summary>Somebody may look at something, but not do what they asked for.</summary>
public sealed class ForbiddenException(string message) : Exception(message);

/// <summary>
/// The visitor that the flow of control works for. There is none where nobody signs in, and for what the program does by itself: then
/// everything may be done. Where models are looked up it is asked, so that no way to a model leads around it.
/// </summary>
public static class Visitor
{
    static readonly AsyncLocal<IVisitor?> Now = new();

    public static IVisitor? Current
    {
        get => Now.Value;
        set => Now.Value = value;
    }

    public static Access Of(string model) => Current?.Of(model) ?? Access.Administer;

    public static Access OfFolder(string folder) => Current?.OfFolder(folder) ?? Access.Administer;

    /// <summary>Whether a model is the visitor's own; without visitors all are.</summary>
    public static bool Owns(string model) => Current?.Owns(model) ?? true;

    public static bool MaySee(string model) => Of(model) >= Access.View;

    /// <summary>The name that the history gives: a visitor's own, whatever the request says.</summary>
    public static string? Author(string? said) => Current?.Name ?? said;

    /// <exception cref="Models.NotFoundException">They may not even see it.</exception>
    /// <exception cref="ForbiddenException">They may see it, but no more.</exception>
    public static void Demand(string model, Access wanted)
    {
        var given = Of(model);
        if (given < Access.View)
            throw Models.NotFoundException.Model(model);
        if (given < wanted)
            throw new ForbiddenException(
                wanted == Access.Edit
                    ? "You may look at this model, but not change it. Make a copy of your own, or ask an administrator."
                    : "Only who may administer this model can do that. Ask an administrator."
            );
    }

    /// <exception cref="ForbiddenException">They may not.</exception>
    public static void DemandFolder(string folder, Access wanted)
    {
        if (OfFolder(folder) < wanted)
            throw new ForbiddenException(
                folder.Length == 0
                    ? "You may not do that with the folders of all. Ask an administrator."
                    : $"You may not do that in the folder '{folder}'. Ask an administrator."
            );
    }

    /// <exception cref="ForbiddenException">They are none.</exception>
    public static void DemandAdministrator()
    {
        if (Current is { IsAdministrator: false })
            throw new ForbiddenException("Only an administrator can do that.");
    }
}
