using System.CommandLine;
using System.Globalization;
using System.Text.Json;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend steady</c>: a state in which nothing changes, with wanted values and free parameters.</summary>
static class SteadyCommand
{
    public static Command Create()
    {
        var file = CommandParts.File();
        var fix = new Option<string[]>("--fix")
        {
            Description = "name=value, or name=low..high: what a signal is to be at rest, with a unit if wanted; may be repeated",
        };
        var free = new Option<string[]>("--free")
        {
            Description = "name, name=guess, or name=guess:low..high: a parameter that may change for it; may be repeated",
        };
        var move = new Option<string[]>("--move")
        {
            Description = "A state that need not rest, as a position at a steady speed; may be repeated",
        };
        var keep = new Option<string?>("--keep") { Description = "Names of the variables to print, separated by commas; all without it" };
        var set = CommandParts.Set();
        var json = new Option<bool>("--json") { Description = "Print JSON" };
        var command = new Command("steady", "Find a state in which nothing changes") { file, fix, free, move, keep, set, json };
        command.SetAction(parsed =>
            CommandParts.Guarded(() =>
            {
                var settings = CommandParts.Settings(parsed.GetValue(set));
                // A guess is a setting: from it the model is put together, as what is zero may be left out of it.
                foreach (var text in parsed.GetValue(free) ?? [])
                    if (
                        text.IndexOf('=', StringComparison.Ordinal) is > 0 and var at
                        && text[(at + 1)..].Split(':')[0].Trim() is { Length: > 0 } guess
                    )
                        settings[text[..at].Trim()] = guess;
                var prepared = ModelFile.Read(parsed.GetValue(file)!).PrepareToRun(settings);
                var wanted = (parsed.GetValue(fix) ?? []).Select(f => Wanted(prepared, f)).ToList();
                var frees = (parsed.GetValue(free) ?? []).Select(f => Free(prepared, f)).ToList();
                var found = SteadySearch.Of(prepared, wanted, frees, new RestSearch(StillMoving: parsed.GetValue(move) ?? []));
                var names = parsed.GetValue(keep) is { } kept
                    ? kept.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                    :
                    [
                        .. prepared
                            .Model.Variables.Where(v => v.Role is VariableRole.Continuous or VariableRole.Discrete)
                            .Select(v => v.Name),
                    ];
                var values = names
                    .Select(n => (Name: n, Variable: prepared.Find(n) ?? throw new CommandException($"There is no variable '{n}'.")))
                    .ToDictionary(v => v.Name, v => found.Point.Values[v.Variable.Index]);
                if (parsed.GetValue(json))
                    Console.WriteLine(
                        JsonSerializer.Serialize(
                            new
                            {
                                isMet = found.IsMet,
                                @fixed = wanted.Select(
                                    (w, i) =>
                                        new
                                        {
                                            name = w.Signal,
                                            wanted = w.IsFixed ? w.Low : (double?)null,
                                            low = Known(w.Low),
                                            high = Known(w.High),
                                            reached = found.Reached[i],
                                        }
                                ),
                                free = frees.Select(
                                    (f, i) =>
                                        new
                                        {
                                            name = f.Parameter,
                                            value = found.Found[i],
                                            atBound = found.AtBounds.Contains(f.Parameter),
                                        }
                                ),
                                values,
                            },
                            CommandParts.Json
                        )
                    );
                else
                {
                    for (var i = 0; i < frees.Count; i++)
                        Console.WriteLine(
                            $"free   {frees[i].Parameter} = {Told(found.Found[i])}"
                                + (found.AtBounds.Contains(frees[i].Parameter) ? "  at its bound" : "")
                        );
                    for (var i = 0; i < wanted.Count; i++)
                        Console.WriteLine($"fixed  {wanted[i].Signal} = {Told(found.Reached[i])}, wanted {Told(wanted[i])}");
                    foreach (var (name, value) in values)
                        Console.WriteLine($"{name} = {Told(value)}");
                }

                if (found.IsMet)
                    return 0;
                Console.Error.WriteLine("error: no state at rest has all wanted values; this is the nearest one that was found.");
                return 1;
            })
        );
        return command;
    }

    static string Told(double value) => value.ToString("G9", CultureInfo.InvariantCulture);

    static string Told(WantedValue wanted) => wanted.IsFixed ? Told(wanted.Low) : $"{Told(wanted.Low)}..{Told(wanted.High)}";

    static double? Known(double value) => double.IsFinite(value) ? value : null;

    static WantedValue Wanted(PreparedModel prepared, string text)
    {
        var at = text.LastIndexOf('=');
        if (at <= 0)
            throw new CommandException($"--fix takes name=value, not '{text}'.");
        var (name, value) = (text[..at].Trim(), text[(at + 1)..]);
        if (value.Split("..") is not [var low, var high])
            return new WantedValue(name, Number(prepared, name, value));
        double Bound(string bound, double none) => bound.Trim().Length > 0 ? Number(prepared, name, bound) : none;
        return new WantedValue(name, Bound(low, double.NegativeInfinity), Bound(high, double.PositiveInfinity));
    }

    static FreeParameter Free(PreparedModel prepared, string text)
    {
        var at = text.IndexOf('=', StringComparison.Ordinal);
        if (at < 0)
            return new FreeParameter(text.Trim());
        var name = text[..at].Trim();
        var parts = text[(at + 1)..].Split(':', 2);
        double? guess = parts[0].Trim().Length > 0 ? Number(prepared, name, parts[0]) : null;
        if (parts.Length == 1)
            return new FreeParameter(name, guess);
        var bounds = parts[1].Split("..");
        if (bounds.Length != 2)
            throw new CommandException($"Bounds are given as low..high, not '{parts[1]}'.");
        return new FreeParameter(
            name,
            guess,
            bounds[0].Trim().Length > 0 ? Number(prepared, name, bounds[0]) : double.NegativeInfinity,
            bounds[1].Trim().Length > 0 ? Number(prepared, name, bounds[1]) : double.PositiveInfinity
        );
    }

    /// <summary>A number in the unit of a variable, typed with a unit or without.</summary>
    static double Number(PreparedModel prepared, string name, string text) =>
        TypedValue.Number(text, prepared.Find(name)?.Unit)
        ?? throw new CommandException($"'{text.Trim()}' is no number, or its unit does not fit {name}.");
}
