using System.Text;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Tables;

/// <summary>
/// Writes the class that a schedule comes to. The phase is a discrete number; what a command does in a phase is a function of the time
/// since that began and of where the command was then.
/// </summary>
sealed class ScheduleWriter(ScheduleDefinition schedule)
{
    readonly StringBuilder text = new();
    readonly TextPlaces places = new();
    readonly List<KeyValuePair<string, PhaseNode>> phases = [.. schedule.Ordered];

    /// <summary>Declarations of the times that commands take, which have a unit so that shares of them have none.</summary>
    readonly StringBuilder times = new();

    void Line(string line) => text.Append(line).Append('\n');

    static string From(NameNode command) => ExpressionText.Name($"from {command.Name}");

    TextPlace Place(PhaseNode phase, string what) => new($"Phase {phase.Name}, {what}", phases.Find(p => p.Value == phase).Key);

    public string Write()
    {
        var name = ExpressionText.Name(schedule.Name);
        var declarations = new NameDeclarations(schedule.Name, places, false);
        var commands = schedule.Commands.ToList();
        var active = schedule.Active();
        Line($"block {name}");
        foreach (var line in declarations.Of(schedule.Names.Values.OrderBy(n => n.Order)))
            Line(line);
        foreach (var (id, _) in phases)
            Line($"Boolean {ExpressionText.Name(active[id])};");
        Line("Real elapsed(unit = \"s\") \"Time in the present phase\";");
        var declared = text.Length;
        Line("Integer 'its phase'(start = 1, fixed = true);");
        Line("discrete Real 'its since'(start = 0, fixed = true);");
        Line("Boolean 'its begun'(start = false, fixed = true);");
        foreach (var (_, command) in commands)
        {
            var type = IsReal(command) ? "discrete Real" : TypeOf(command);
            Line($"{type} {From(command)}(start = {declarations.First(command)}, fixed = true);");
        }

        for (var p = 1; p <= phases.Count; p++)
            Line($"Boolean 'ends {p}';");
        Line("equation");
        Line("when initial() then 'its begun' = true; end when;");
        Line("elapsed = time - 'its since';");
        var last = phases.Count;
        var goesOn = new List<string>();
        for (var p = 1; p <= phases.Count; p++)
        {
            var ends = p < last || schedule.Repeats ? Ends(phases[p - 1].Value) : null;
            Line($"'ends {p}' = {(ends is null ? "false" : $"pre('its begun') and pre('its phase') == {p} and ({ends})")};");
            if (ends is not null)
                goesOn.Add($"'ends {p}'");
        }

        if (goesOn.Count > 0)
        {
            Line($"when {{{string.Join(", ", goesOn)}}} then");
            Line($"'its phase' = {(schedule.Repeats ? $"mod(pre('its phase'), {last}) + 1" : "pre('its phase') + 1")};");
            Line("'its since' = time;");
            foreach (var (id, command) in commands)
                Line($"{From(command)} = {Course(id, command, true)};");
            Line("end when;");
        }
        else
        {
            Line("when false then 'its phase' = 1; 'its since' = 0;");
            foreach (var (_, command) in commands)
                Line($"{From(command)} = pre({From(command)});");
            Line("end when;");
        }

        for (var p = 1; p <= phases.Count; p++)
            Line($"{ExpressionText.Name(active[phases[p - 1].Key])} = 'its phase' == {p};");
        foreach (var (id, command) in commands)
            Line($"{ExpressionText.Name(command.Name)} = {Course(id, command, false)};");
        Line($"end {name};");
        text.Insert(declared, places.Constants() + "protected\n" + times);
        return text.ToString();
    }

    static string TypeOf(NameNode command) => Words.Of(command.Type).Count > 0 ? "Integer" : command.Type.Trim();

    static bool IsReal(NameNode command) => TypeOf(command) == "Real";

    /// <summary>When a phase ends; null for never.</summary>
    string? Ends(PhaseNode phase)
    {
        var ends = new List<string>();
        if (phase.Lasts is { Length: > 0 } lasts)
            ends.Add($"time >= pre('its since') + {TextPlaces.Seconds(lasts, Place(phase, "lasts"))}");
        if (phase.Until is { Length: > 0 } until)
            ends.Add(places.Expression(until, Place(phase, "until"), "pre('its since')"));
        return ends.Count > 0 ? string.Join(" or ", ends) : null;
    }

    /// <summary>The value of a command over time; with <paramref name="before"/> in the phase that was.</summary>
    string Course(string id, NameNode command, bool before)
    {
        string Was(string name) => before ? $"pre({name})" : name;
        var from = Was(From(command));
        var course = new StringBuilder();
        for (var p = 1; p <= phases.Count; p++)
            if (phases[p - 1].Value.Commands.TryGetValue(id, out var does))
            {
                var value = Value(phases[p - 1].Value, command, does, from, Was("'its since'"), before);
                course.Append($"{(course.Length == 0 ? "if" : " elseif")} {Was("'its phase'")} == {p} then {value}");
            }

        return course.Length == 0 ? from : $"{course} else {from}";
    }

    string Value(PhaseNode phase, NameNode command, CommandNode does, string from, string since, bool before)
    {
        var to = places.Expression(does.To, Place(phase, command.Name), since);
        if (does.Way == CommandWay.Step)
            return to;
        if (!IsReal(command))
            throw new LanguageException(
                "schedule",
                $"{Place(phase, command.Name).Told}: only a real number goes by degrees.",
                default,
                "Let it step."
            );
        var typed = does.Over is { Length: > 0 } over ? over : phase.Lasts;
        if (typed is not { Length: > 0 })
            throw new LanguageException(
                "schedule",
                $"{Place(phase, command.Name).Told}: it takes a time to get there.",
                default,
                "Say how long it takes, or how long the phase lasts."
            );
        var duration = ExpressionText.Name($"time of {command.Name} in {phase.Name}");
        // The value before an event is written with the same times.
        if (!before)
            times.Append($"parameter Real {duration}(unit = \"s\") = {TextPlaces.Seconds(typed, Place(phase, command.Name))};\n");
        var part = $"((time - {since}) / {duration})";
        var share = does.Way == CommandWay.Ramp ? part : $"({part} ^ 3 * (10 + {part} * (6 * {part} - 15)))";
        return $"(if time < {since} + {duration} then {from} + ({to} - {from}) * {share} else {to})";
    }
}
