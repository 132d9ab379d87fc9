using System.Text;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Flattening;

namespace AnchorBend.Simulation.Tests;

/// <summary>
/// Mutated library sources and statements: the parser and the flattener answer with findings, never with another exception, and in bounded
/// time. <c>ANCHOR_BEND_FUZZ</c> sets the number of inputs; a million were run by hand.
/// </summary>
public class LanguageFuzzTests
{
    static readonly string[] Scraps =
    [
        "(",
        ")",
        "{",
        "}",
        "[",
        "]",
        ";",
        "=",
        ":=",
        "if",
        "then",
        "else",
        "end",
        "for i in 1:3 loop",
        "end for;",
        "when",
        "algorithm",
        "equation",
        "der(",
        "pre(",
        "1e308",
        "-1",
        "redeclare",
        "extends",
        "function f input Real x; output Real y; algorithm y := f(x); end f;",
        "each",
        "final",
        "connect(u, y);",
        "\"",
        "'",
        "/*",
        "//",
        ",",
        ".",
        "while true loop",
        "break;",
        "return;",
        "1:0",
        "size(u, 1)",
        "model X X x; end X;",
        "record R Real a; end R;",
        "0",
        "9999999",
        "protected",
        "[:]",
        "import A.*;",
        "noEvent(",
        "delay(u, -1)",
        "sample(0, 0)",
    ];

    [Fact]
    public void Mutated_sources_never_crash()
    {
        var count = int.TryParse(Environment.GetEnvironmentVariable("ANCHOR_BEND_FUZZ"), out var wanted) ? wanted : 4000;
        var assembly = typeof(Library.LibraryMarker).Assembly;
        var sources = assembly
            .GetManifestResourceNames()
            .Where(n => n.EndsWith(".mo", StringComparison.Ordinal))
            .Order(StringComparer.Ordinal)
            .Select(n =>
            {
                using var reader = new StreamReader(assembly.GetManifestResourceStream(n)!);
                return reader.ReadToEnd();
            })
            .ToArray();
        var seed = int.TryParse(Environment.GetEnvironmentVariable("ANCHOR_BEND_SEED"), out var s) ? s : 1;
        Parallel.For(0, count, new ParallelOptions { MaxDegreeOfParallelism = 2 }, i =>
        {
            var random = new Random(seed * 1_000_003 + i);
            var text = Mutated(sources[random.Next(sources.Length)], random, sources);
            try
            {
                var (classes, _) = Parser.ParseFile(text);
                if (classes.Count > 0)
                    Flattener.Flatten(classes[^1], new ClassList(classes, PartCatalog.Standard));
            }
            catch (Exception e)
            {
                throw new InvalidOperationException($"Input {i} ends with {e.GetType().Name}: {e.Message}\n{e.StackTrace}\n{text}", e);
            }
        });
    }

    static string Mutated(string source, Random random, string[] sources)
    {
        var text = new StringBuilder(source);
        for (var n = random.Next(1, 6); n > 0; n--)
        {
            var at = random.Next(text.Length + 1);
            switch (random.Next(6))
            {
                case 0 when at < text.Length:
                    text.Remove(at, Math.Min(random.Next(1, 12), text.Length - at));
                    break;
                case 1:
                    text.Insert(at, Scraps[random.Next(Scraps.Length)]);
                    break;
                case 2 when at < text.Length:
                    text[at] = (char)random.Next(32, 127);
                    break;
                case 3:
                    text.Insert(at, new string("([{-"[random.Next(4)], random.Next(1, 2000)));
                    break;
                case 4:
                    var other = sources[random.Next(sources.Length)];
                    var from = random.Next(other.Length);
                    text.Insert(at, other.AsSpan(from, Math.Min(random.Next(1, 60), other.Length - from)));
                    break;
                default:
                    var length = Math.Min(random.Next(1, 80), text.Length - at);
                    text.Insert(at, text.ToString(at, length));
                    break;
            }
        }

        return text.ToString();
    }
}
