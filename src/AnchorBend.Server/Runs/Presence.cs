using System.Collections.Concurrent;
using Microsoft.AspNetCore.SignalR;

namespace AnchorBend.Server.Runs;

/// <summary>A window that has a model open, as others see it.</summary>
/// <param name="Window">Tells windows of one person apart.</param>
/// <param name="Level">The level that it shows, by part ids from the root down.</param>
/// <param name="Selection">Ids of what is selected there.</param>
public sealed record PresentWindow(string Window, string Name, string Level, IReadOnlyList<string> Selection);

/// <summary>Where somebody is, as their window says.</summary>
/// <param name="Window">A name that the window has given itself.</param>
/// <param name="Name">As they call themselves; who is signed in is called by their account.</param>
public sealed record WhereRequest(string Window, string Name, string Level, IReadOnlyList<string> Selection);

/// <summary>Who has which model open, known by their live connections.</summary>
public sealed class Presence
{
    const int MostSelected = 50,
        LongestText = 400;

    readonly ConcurrentDictionary<string, (string Model, PresentWindow Window)> windows = new();

    /// <exception cref="HubException">It names no window, or more than anybody could look at.</exception>
    public void Put(string connection, string model, string? account, WhereRequest request)
    {
        if (
            request
                is not {
                    Window.Length: > 0 and <= LongestText,
                    Name.Length: <= LongestText,
                    Level.Length: <= LongestText,
                    Selection: not null
                }
            || request.Selection.Any(s => s is not { Length: <= LongestText })
        )
            throw new HubException("Name the window, the level and what is selected.");
        windows[connection] = (
            model,
            new PresentWindow(request.Window, account ?? request.Name.Trim(), request.Level, [.. request.Selection.Take(MostSelected)])
        );
    }

    /// <returns>The model that a connection had open; null where it had none.</returns>
    public string? Remove(string connection) => windows.TryRemove(connection, out var gone) ? gone.Model : null;

    public IReadOnlyList<PresentWindow> Of(string model) =>
        [.. windows.Values.Where(w => w.Model == model).Select(w => w.Window).OrderBy(w => w.Name).ThenBy(w => w.Window)];
}
