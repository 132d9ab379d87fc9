using System.Security.Cryptography;
using System.Text;
using System.Text.Json;

namespace AnchorBend.Workbench.Studies.Engines;

/// <summary>What a node needs of a study: the model's file, and what was asked for. It stands in a folder that all nodes see.</summary>
/// <param name="Model">Name of the model's file in the folder.</param>
/// <param name="Arguments">What was asked for, as the command line takes it, without the model and without where to write.</param>
/// <param name="Rows">Of the whole study.</param>
/// <param name="Chunk">Rows of one task.</param>
/// <param name="Key">Of the model and of what was asked; nodes of another version that read it otherwise refuse.</param>
public sealed record StudyPackage(string Model, IReadOnlyList<string> Arguments, int Rows, int Chunk, string Key)
{
    const string FileName = "package.json";

    static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web) { WriteIndented = true };

    public int Chunks => (Rows + Chunk - 1) / Chunk;

    /// <summary>Rows of a task.</summary>
    public IEnumerable<int> RowsOf(int chunk) => Enumerable.Range(chunk * Chunk, Math.Clamp(Rows - chunk * Chunk, 0, Chunk));

    /// <summary>What decides the rows and their results.</summary>
    public static string KeyOf(string model, IReadOnlyList<string> arguments, StudyTable table)
    {
        using var all = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        void Add(string text) => all.AppendData(Encoding.UTF8.GetBytes(text + "\n"));
        Add(model);
        foreach (var argument in arguments)
            Add(argument);
        foreach (var row in table.Rows)
        foreach (var cell in row)
            Add(cell.Text);
        return Convert.ToHexString(all.GetHashAndReset())[..32];
    }

    /// <summary>Puts the package and the model's file into a folder; what stands there of the same study stays.</summary>
    /// <exception cref="EngineException">The folder is of another study.</exception>
    public void Write(string folder, string model)
    {
        Directory.CreateDirectory(folder);
        Directory.CreateDirectory(Path.Combine(folder, "log"));
        if (File.Exists(Path.Combine(folder, FileName)) && Read(folder) is { } there && (there.Key, there.Chunk) != (Key, Chunk))
            throw new EngineException($"{folder} is of another study: of another model, other factors or other settings.");
        WriteWhole(Path.Combine(folder, Model), model);
        WriteWhole(Path.Combine(folder, FileName), JsonSerializer.Serialize(this, Json));
    }

    /// <exception cref="EngineException">There is none.</exception>
    public static StudyPackage Read(string folder)
    {
        try
        {
            return JsonSerializer.Deserialize<StudyPackage>(File.ReadAllText(Path.Combine(folder, FileName)), Json)!;
        }
        catch (Exception e) when (e is IOException or JsonException)
        {
            throw new EngineException($"{folder} holds no package of a study: {e.Message}");
        }
    }

    static readonly JsonSerializerOptions Lines = new(JsonSerializerDefaults.Web)
    {
        NumberHandling = System.Text.Json.Serialization.JsonNumberHandling.AllowNamedFloatingPointLiterals,
    };

    static string FileOf(string folder, int chunk) => Path.Combine(folder, $"chunk-{chunk}.jsonl");

    /// <summary>Keeps the results of a task: all of them, or none where a node dies meanwhile.</summary>
    public static void Keep(string folder, int chunk, IEnumerable<StudyResult> results) =>
        WriteWhole(FileOf(folder, chunk), string.Concat(results.Select(r => JsonSerializer.Serialize(r, Lines) + "\n")));

    /// <summary>The results of a task; null where it has not ended.</summary>
    public static IReadOnlyList<StudyResult>? Results(string folder, int chunk) =>
        File.Exists(FileOf(folder, chunk))
            ? [.. File.ReadLines(FileOf(folder, chunk)).Select(l => JsonSerializer.Deserialize<StudyResult>(l, Lines)!)]
            : null;

    /// <summary>Under another name first: who reads finds the whole file or none. Two nodes that write the same do not disturb each
    /// other.</summary>
    static void WriteWhole(string path, string text)
    {
        var half = $"{path}.{Environment.MachineName}-{Environment.ProcessId}.half";
        File.WriteAllText(half, text);
        File.Move(half, path, true);
    }
}
