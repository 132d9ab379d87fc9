using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;

namespace AnchorBend.Delivery.Exchange;

/// <summary>A file of an exchange unit.</summary>
public sealed record ExchangeFile(string Name, byte[] Bytes);

/// <summary>
/// A unit as an exchange unit of the open standard FMI (2.0 and 3.0) for co-simulation: its C code, a layer between that and the
/// standard's functions, what it says of itself, and a program for Linux on x86-64. It makes steps of its own length, whatever the
/// importer's are; outputs at a communication point are those with the inputs as they are then.
/// </summary>
public static class ExchangeUnit
{
    /// <param name="version">2.0 or 3.0.</param>
    /// <param name="end">Where a run ends by default, s; null for none.</param>
    /// <returns>The archive; the same unit gives the same bytes by the same compiler.</returns>
    /// <exception cref="DeliveryException">It does not compile; there is no compiler.</exception>
    public static (string Name, byte[] Bytes) Pack(CodeUnit unit, string version, double? end, CancellationToken wanted)
    {
        var files = Files(unit, version, end, wanted);
        var packed = new MemoryStream();
        using (var archive = new ZipArchive(packed, ZipArchiveMode.Create, true))
            foreach (var file in files)
            {
                var entry = archive.CreateEntry(file.Name);
                entry.LastWriteTime = new DateTimeOffset(2000, 1, 1, 0, 0, 0, TimeSpan.Zero);
                using var stream = entry.Open();
                stream.Write(file.Bytes);
            }

        return (CNames.Small(unit.Name) + ".fmu", packed.ToArray());
    }

    static List<ExchangeFile> Files(CodeUnit unit, string version, double? end, CancellationToken wanted)
    {
        var isThird = version == "3.0";
        var written = CWriter.Write(unit);
        var identifier = Path.GetFileNameWithoutExtension(written[0].Name);
        var variables = ExchangeVariable.Of(unit);
        var layer = Layer(unit, identifier, variables, isThird);
        var token = Token(written.Select(f => f.Text).Append(layer).Append(version));
        layer = layer.Replace("@TOKEN@", token, StringComparison.Ordinal);
        List<(string Name, string Text)> sources = [.. written.Select(f => (f.Name, f.Text)), (identifier + "_exchange.c", layer)];
        List<ExchangeFile> files =
        [
            Text("modelDescription.xml", ModelDescription.Of(unit, identifier, token, variables, isThird, end)),
            .. sources.Select(s => Text("sources/" + s.Name, s.Text)),
        ];
        if (isThird)
            files.Add(Text("sources/buildDescription.xml", ModelDescription.Build(identifier)));
        var platform = isThird ? "x86_64-linux" : "linux64";
        files.Add(new($"binaries/{platform}/{identifier}.so", Program(sources, identifier, wanted)));
        return files;
    }

    static ExchangeFile Text(string name, string text) => new(name, Encoding.UTF8.GetBytes(text));

    /// <summary>A universally unique identifier made of the content (RFC 9562, version 8).</summary>
    static string Token(IEnumerable<string> texts)
    {
        var hash = SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\f', texts)))[..16];
        hash[6] = (byte)(hash[6] & 0x0f | 0x80);
        hash[8] = (byte)(hash[8] & 0x3f | 0x80);
        return "{" + new Guid(hash, true) + "}";
    }

    static byte[] Program(IReadOnlyList<(string Name, string Text)> sources, string identifier, CancellationToken wanted)
    {
        if (!NativeCode.HasCompiler)
            throw new DeliveryException("compiler", "There is no C compiler on this machine.", "Install gcc.");
        var folder = Directory.CreateTempSubdirectory("exchange-").FullName;
        try
        {
            foreach (var (name, text) in sources)
                File.WriteAllText(Path.Combine(folder, name), text);
            var made = NativeCode.Library(folder, ModelDescription.Sources(identifier), identifier + ".so", wanted);
            return made.Succeeded && made.Messages.Length == 0
                ? File.ReadAllBytes(made.Program)
                : throw new DeliveryException(
                    "compile",
                    $"The exchange unit does not compile: {made.Messages}",
                    "Tell the makers of Anchor Bend."
                );
        }
        finally
        {
            Directory.Delete(folder, true);
        }
    }

    /// <summary>What leads from the standard's functions to the unit's.</summary>
    static string Layer(CodeUnit unit, string prefix, IReadOnlyList<ExchangeVariable> variables, bool isThird)
    {
        var (hasParameters, hasInputs) = (unit.Tunable.Count > 0, unit.Inputs.Count > 0);
        string Passed(ExchangeVariable v, bool sets) => sets ? $"{v.Place} = {Cast(unit, v)}value" : $"*value = {v.Place}";
        string Cases(ExchangeType type, bool sets) =>
            string.Join(
                '\n',
                variables
                    .Where(v => v.Type == type && (!sets || v.Causality is ExchangeCausality.Parameter or ExchangeCausality.Input))
                    .Select(v => $"    case {v.Reference}U:\n        {Passed(v, sets)};\n        break;")
            );
        var members = new[] { hasParameters ? $"    {prefix}_parameters p;" : "", hasInputs ? $"    {prefix}_inputs u;" : "" };
        var reset = new[] { hasParameters ? $"    {prefix}_defaults(&c->p);" : "", hasInputs ? "    memset(&c->u, 0, sizeof c->u);" : "" };
        var values = new Dictionary<string, string>
        {
            ["PREFIX"] = prefix,
            ["STEP"] = CPlaces.Literal(unit.Request.Step, false),
            ["MEMBERS"] = string.Join('\n', members.Where(m => m.Length > 0)),
            ["RESET"] = string.Join('\n', reset.Where(m => m.Length > 0)),
            ["START"] = prefix + "_start",
            ["STEPPED"] = prefix + "_step",
            ["P"] = hasParameters ? ", &c->p" : "",
            ["U"] = hasInputs ? ", &c->u" : "",
            ["GETREALS"] = Cases(ExchangeType.Real, false),
            ["SETREALS"] = Cases(ExchangeType.Real, true),
            ["GETINTEGERS"] = Cases(ExchangeType.Integer, false),
            ["SETINTEGERS"] = Cases(ExchangeType.Integer, true),
            ["GETBOOLEANS"] = Cases(ExchangeType.Boolean, false),
            ["SETBOOLEANS"] = Cases(ExchangeType.Boolean, true),
        };
        var text = Read("instance.c") + Read(isThird ? "third.c" : "second.c");
        foreach (var (name, value) in values)
            text = text.Replace($"@{name}@", value, StringComparison.Ordinal);
        return text;
    }

    static string Cast(CodeUnit unit, ExchangeVariable v) => v.Type == ExchangeType.Real && unit.Request.IsFloat ? "(float)" : "";

    static string Read(string name)
    {
        using var stream = typeof(ExchangeUnit).Assembly.GetManifestResourceStream(name)!;
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd();
    }
}
