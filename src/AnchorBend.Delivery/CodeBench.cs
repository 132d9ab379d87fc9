using AnchorBend.Language;

namespace AnchorBend.Delivery;

/// <summary>A unit's code compiled on this machine, run in processes of its own and compared with the model.</summary>
public sealed class CodeBench : IDisposable
{
    static readonly TimeSpan MostRunning = TimeSpan.FromSeconds(60);

    /// <summary>Most a float output may differ, as part of the largest value of its output: rounding of some operations in a row.</summary>
    const double FloatRounding = 2e-4;

    readonly string folder;
    readonly IReadOnlyList<CodeFile> files;
    readonly CompiledCode fast;
    readonly CompiledCode? counting;

    CodeBench(string folder, IReadOnlyList<CodeFile> files, CompiledCode fast, CompiledCode? counting)
    {
        (this.folder, this.files, this.fast, this.counting) = (folder, files, fast, counting);
    }

    /// <summary>What the compiler said; empty where it said nothing.</summary>
    public string Messages => fast.Messages;

    string Source => files[1].Name;

    /// <param name="counts">Whether it is counted how often each line runs.</param>
    /// <exception cref="DeliveryException">The code does not compile.</exception>
    public static CodeBench Build(CodeUnit unit, bool counts, CancellationToken wanted)
    {
        if (!NativeCode.HasCompiler)
            throw new DeliveryException("compiler", "There is no C compiler on this machine.", "Install gcc.");
        var folder = Directory.CreateTempSubdirectory("unit-").FullName;
        try
        {
            var files = CWriter.Write(unit);
            foreach (var file in files)
                File.WriteAllText(Path.Combine(folder, file.Name), file.Text);
            File.WriteAllText(Path.Combine(folder, CodeHost.File), CodeHost.Of(unit, files[0].Name));
            var fast = Made(NativeCode.Compile(folder, files[1].Name, CodeHost.File, false, wanted));
            return new CodeBench(
                folder,
                files,
                fast,
                counts ? Made(NativeCode.Compile(folder, files[1].Name, CodeHost.File, true, wanted)) : null
            );
        }
        catch
        {
            Directory.Delete(folder, true);
            throw;
        }
    }

    static CompiledCode Made(CompiledCode compiled) =>
        compiled.Succeeded
            ? compiled
            : throw new DeliveryException("compile", $"The code does not compile: {compiled.Messages}", "Tell the makers of Anchor Bend.");

    /// <summary>Whether the code is the same for another unit, but for what its tunable parameters begin with.</summary>
    public bool Suits(CodeUnit unit) => CWriter.Write(unit).Zip(files).All(f => Plain(f.First.Text) == Plain(f.Second.Text));

    static string Plain(string text) => string.Join('\n', text.Split('\n').Where(l => !l.StartsWith("    p->", StringComparison.Ordinal)));

    /// <param name="unit">Gives the values of the tunable parameters, and computes the same here.</param>
    /// <param name="inputs">A row for each step, in the order of the unit's inputs.</param>
    /// <exception cref="DeliveryException">The code does not run.</exception>
    public BackToBackResult Run(CodeUnit unit, IReadOnlyList<double[]> inputs, CancellationToken wanted)
    {
        var (given, made) = (Path.Combine(folder, "in.bin"), Path.Combine(folder, "out.bin"));
        using (var writer = new BinaryWriter(File.Create(given)))
        {
            foreach (var parameter in unit.Tunable)
                writer.Write(unit.Parameters.Values[parameter.Variable.Index]);
            foreach (var row in inputs)
            foreach (var value in row)
                writer.Write(value);
            // A unit without inputs is told how many steps by bytes.
            if (unit.Inputs.Count == 0)
                writer.Write(new byte[inputs.Count]);
        }

        if (counting is not null)
            NativeCode.Execute(counting.Program, folder, given, made, MostRunning, wanted);
        NativeCode.Execute(fast.Program, folder, given, made, MostRunning, wanted);
        return Compared(unit, inputs, made, wanted);
    }

    BackToBackResult Compared(CodeUnit unit, IReadOnlyList<double[]> inputs, string made, CancellationToken wanted)
    {
        int[] from = [.. unit.Inputs.Select(i => i.Variable.Index)],
            to = [.. unit.Outputs.Select(o => o.Variable.Index)];
        var results = new double[to.Length];
        var (apart, sizes) = (new double[to.Length], new double[to.Length]);
        Parting? first = null;
        using var reference = unit.Reference();
        using var reader = new BinaryReader(File.OpenRead(made));
        for (var step = 0; step < inputs.Count; step++)
        {
            if (step % 1000 == 0)
            {
                wanted.ThrowIfCancellationRequested();
                WorkBudget.Current.Check();
            }

            reference.Step(from, inputs[step], to, results);
            for (var i = 0; i < to.Length; i++)
            {
                var code = reader.ReadDouble();
                var model = results[i];
                sizes[i] = Math.Max(sizes[i], Math.Abs(model));
                if (double.IsFinite(model - code))
                    apart[i] = Math.Max(apart[i], Math.Abs(model - code));
                var same = unit.Request.IsFloat
                    ? Math.Abs(model - code) <= FloatRounding * Math.Max(sizes[i], 1e-3) || double.IsNaN(model) && double.IsNaN(code)
                    : model.Equals(code);
                if (!same)
                    first ??= new Parting(unit.Outputs[i].Name, step, Finite(model), Finite(code));
            }
        }

        return new BackToBackResult(
            Messages,
            inputs.Count,
            first,
            unit.Outputs.Select((o, i) => (o.Name, apart[i])).ToDictionary(),
            reference.Unsolved,
            reference.Unsettled
        );
    }

    static double? Finite(double value) => double.IsFinite(value) ? value : null;

    /// <summary>How often each line of the source has run, and each way at its branches.</summary>
    /// <exception cref="DeliveryException">It was not built to count, or there is no program that reads the counts.</exception>
    public IReadOnlyList<LineCount> Counts(CancellationToken wanted) => LineCount.Of(folder, Source, wanted);

    /// <summary>Rules of MISRA C:2012 that the source does not keep; null where there is no static checker.</summary>
    public IReadOnlyList<string>? RulesMissed(CancellationToken wanted) =>
        NativeCode.HasChecker ? NativeCode.RulesMissed(folder, Source, wanted) : null;

    /// <summary>What the code takes on this machine.</summary>
    public CodeSize Size(CancellationToken wanted) => CodeSize.Of(folder, Source, wanted);

    public void Dispose() => Directory.Delete(folder, true);
}
