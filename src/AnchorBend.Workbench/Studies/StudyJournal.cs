using System.Security.Cryptography;
using System.Text;
using System.Text.Json;

namespace AnchorBend.Workbench.Studies;

/// <summary>Results of a study in a file that grows line by line, so that it goes on where it was after any break.</summary>
public sealed class StudyJournal : IDisposable
{
    static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        NumberHandling = System.Text.Json.Serialization.JsonNumberHandling.AllowNamedFloatingPointLiterals,
    };

    readonly FileStream file;

    /// <summary>Results that the file had already, by row.</summary>
    public IReadOnlyDictionary<int, StudyResult> Earlier { get; }

    /// <param name="study">All that decides what the rows are and what they give; a journal of another study is refused.</param>
    /// <exception cref="InvalidDataException">The file belongs to another study.</exception>
    public StudyJournal(string path, string study)
    {
        var key = Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(study)))[..32];
        var earlier = new Dictionary<int, StudyResult>();
        var whole = 0L;
        if (File.Exists(path))
        {
            var bytes = File.ReadAllBytes(path);
            // What was being written when it broke off has no end of line.
            whole = Array.LastIndexOf(bytes, (byte)'\n') + 1;
            var lines = Encoding.UTF8.GetString(bytes, 0, (int)whole).Split('\n', StringSplitOptions.RemoveEmptyEntries);
            if (lines.Length > 0 && lines[0] != key)
                throw new InvalidDataException($"{path} is of another study: of another model, other factors or other settings.");
            foreach (var line in lines.Skip(1))
                if (Read(line) is { } result)
                    earlier[result.Index] = result;
        }

        Earlier = earlier;
        file = new FileStream(path, FileMode.OpenOrCreate, FileAccess.Write, FileShare.Read);
        file.SetLength(whole);
        file.Seek(0, SeekOrigin.End);
        if (whole == 0)
            Write(key);
    }

    static StudyResult? Read(string line)
    {
        try
        {
            return JsonSerializer.Deserialize<StudyResult>(line, Json);
        }
        catch (JsonException)
        {
            return null;
        }
    }

    public void Add(StudyResult result) => Write(JsonSerializer.Serialize(result, Json));

    void Write(string line)
    {
        file.Write(Encoding.UTF8.GetBytes(line + "\n"));
        file.Flush();
    }

    public void Dispose() => file.Dispose();
}
