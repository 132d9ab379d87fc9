using System.Reflection;
using System.Runtime.InteropServices;
using System.Security.Cryptography;
using AnchorBend.Compiler.Preparation;

namespace AnchorBend.Simulation;

/// <summary>What a run was made from, enough to make it again: the same program, model and settings give the same bits.</summary>
public sealed record RunProvenance
{
    /// <summary>Version of this program.</summary>
    public required string Version { get; init; }

    public required string Model { get; init; }

    /// <summary>Revision of the model's document; null for a model from a file.</summary>
    public long? Revision { get; init; }

    /// <summary>A hash of the equations and all parameter and start values.</summary>
    public required string Fingerprint { get; init; }

    public double Start { get; init; }

    public double End { get; init; }

    public required string Method { get; init; }

    public double Step { get; init; }

    public double? LargestStep { get; init; }

    public double RelativeTolerance { get; init; }

    public double AbsoluteTolerance { get; init; }

    public double? OutputInterval { get; init; }

    public IReadOnlyList<double>? OutputTimes { get; init; }

    public bool RecordEvents { get; init; }

    public bool SteadyStart { get; init; }

    public IReadOnlyList<string> SteadyParts { get; init; } = [];

    public IReadOnlyList<string> Moving { get; init; } = [];

    /// <summary>Where states began, if not at their start values.</summary>
    public StartValues? From { get; init; }

    /// <summary>What was done to the run from outside; null where nothing was.</summary>
    public RunScript? Script { get; init; }

    public static RunProvenance Of(PreparedModel prepared, ParameterSet parameters, RunOptions options, long? revision = null) =>
        new()
        {
            Version = typeof(RunProvenance).Assembly.GetCustomAttribute<AssemblyInformationalVersionAttribute>()?.InformationalVersion
                ?? "",
            Model = prepared.Model.Name,
            Revision = revision,
            Fingerprint = FingerprintOf(prepared, parameters),
            Start = options.Start,
            End = options.End,
            Method = MethodDescription.Of(options.Method).Name,
            Step = options.Step,
            LargestStep = options.LargestStep,
            RelativeTolerance = options.RelativeTolerance,
            AbsoluteTolerance = options.AbsoluteTolerance,
            OutputInterval = options.OutputInterval,
            OutputTimes = options.OutputTimes,
            RecordEvents = options.RecordEvents,
            SteadyStart = options.SteadyStart,
            SteadyParts = options.SteadyParts,
            Moving = options.Moving,
            From = options.From,
            Script = options.Script,
        };

    /// <summary>The options of the run, to make it again.</summary>
    /// <exception cref="InvalidDataException">The method is unknown to this version.</exception>
    public RunOptions ToOptions() =>
        new()
        {
            Start = Start,
            End = End,
            Step = Step,
            LargestStep = LargestStep,
            RelativeTolerance = RelativeTolerance,
            AbsoluteTolerance = AbsoluteTolerance,
            OutputInterval = OutputInterval,
            OutputTimes = OutputTimes,
            RecordEvents = RecordEvents,
            SteadyStart = SteadyStart,
            SteadyParts = SteadyParts,
            Moving = Moving,
            From = From,
            Script = Script,
            Method = MethodDescription.Named(Method)?.Method
                ?? throw new InvalidDataException($"This version has no integration method '{Method}'."),
        };

    static string FingerprintOf(PreparedModel prepared, ParameterSet parameters)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        hash.AppendData(MemoryMarshal.AsBytes(prepared.StructureKey.AsSpan()));
        hash.AppendData(MemoryMarshal.AsBytes(parameters.Values.AsSpan()));
        hash.AppendData(MemoryMarshal.AsBytes(parameters.Starts.AsSpan()));
        return Convert.ToHexString(hash.GetHashAndReset())[..32].ToLowerInvariant();
    }
}
