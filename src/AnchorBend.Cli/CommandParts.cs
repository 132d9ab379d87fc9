using System.CommandLine;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;

namespace AnchorBend.Cli;

/// <summary>What several commands share: arguments, number formats, errors.</summary>
static class CommandParts
{
    public static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    public static Argument<FileInfo> File() =>
        new Argument<FileInfo>("FILE")
        {
            Description = "A model document (.json) or equation-language text (.mo), whose last model is taken",
        }.AcceptExistingOnly();

    public static Option<string[]> Set() =>
        new("--set")
        {
            Description = "name=value: sets a parameter by path, with a unit if wanted; may be repeated",
            AllowMultipleArgumentsPerToken = false,
        };

    public static Dictionary<string, string> Settings(string[]? given)
    {
        var result = new Dictionary<string, string>();
        foreach (var text in given ?? [])
        {
            var equal = text.IndexOf('=', StringComparison.Ordinal);
            if (equal <= 0)
                throw new CommandException($"--set needs name=value, not '{text}'.");
            result[text[..equal].Trim()] = text[(equal + 1)..].Trim();
        }

        return result;
    }

    public static double[] Numbers(string list, string option)
    {
        try
        {
            return
            [
                .. list.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                    .Select(n => double.Parse(n, CultureInfo.InvariantCulture)),
            ];
        }
        catch (FormatException)
        {
            throw new CommandException($"{option} needs numbers separated by commas, not '{list}'.");
        }
    }

    /// <summary>Names separated by commas; those in brackets and quotes belong to a name.</summary>
    public static string[] Names(string list)
    {
        var names = new List<string>();
        var (start, depth, quoted) = (0, 0, false);
        for (var i = 0; i <= list.Length; i++)
        {
            var c = i < list.Length ? list[i] : ',';
            if (c == '\'')
                quoted = !quoted;
            else if (c == '[')
                depth++;
            else if (c == ']')
                depth--;
            if (i < list.Length && (c != ',' || quoted || depth > 0))
                continue;
            if (list[start..i].Trim() is { Length: > 0 } name)
                names.Add(name);
            start = i + 1;
        }

        return [.. names];
    }

    /// <summary>A time as typed: a number of seconds or one with a unit.</summary>
    public static double Seconds(string text, string option)
    {
        try
        {
            var expression = Parser.ParseField(text);
            var (value, unit) = expression is Quantity q ? (q.Value, q.Unit) : (expression, Unit.Parse("s"));
            if (unit.Dimension != Dimension.Base(2))
                throw new CommandException($"{option} needs a time, not '{text}'.");
            if (value is NumberLiteral n)
                return n.Value * unit.Factor;
        }
        catch (LanguageException) { }

        throw new CommandException($"{option} needs a time, not '{text}'.");
    }

    /// <summary>Runs a command; what went wrong is told in one line, never as a stack trace.</summary>
    public static int Guarded(Func<int> command)
    {
        try
        {
            return command();
        }
        catch (CommandException e)
        {
            Console.Error.WriteLine(e.Message.StartsWith("error", StringComparison.Ordinal) ? e.Message : "error: " + e.Message);
            return 2;
        }
        catch (Simulation.SimulationException e)
        {
            Console.Error.WriteLine($"error: {e.Failure.Message} {e.Failure.Advice}");
            return 1;
        }
        catch (Design.DesignException e)
        {
            Console.Error.WriteLine($"error: {e.Message} {e.Advice}");
            return 1;
        }
        catch (IOException e)
        {
            Console.Error.WriteLine("error: " + e.Message);
            return 2;
        }
    }
}
