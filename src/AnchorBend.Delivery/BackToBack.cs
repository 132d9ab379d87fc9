using System.Globalization;
using System.Text;
using AnchorBend.Language.Binding;

namespace AnchorBend.Delivery;

/// <summary>Where code and model part.</summary>
/// <param name="Output">Name of the output.</param>
/// <param name="Step">From 0.</param>
public sealed record Parting(string Output, long Step, double Model, double Code);

/// <summary>What a comparison of code with the model came to.</summary>
/// <param name="Compiler">What the compiler said; empty where it said nothing.</param>
/// <param name="Steps">That were compared.</param>
/// <param name="First">Where they part first; null where they do not.</param>
/// <param name="Largest">By output how far they are apart at most.</param>
public sealed record BackToBackResult(string Compiler, long Steps, Parting? First, IReadOnlyDictionary<string, double> Largest)
{
    public bool AreSame => First is null;
}

/// <summary>Runs generated code and the model step by step on the same inputs, and compares all outputs.</summary>
public static class BackToBack
{
    /// <summary>No unit's file can be called so.</summary>
    const string Harness = "-host.c";

    static readonly TimeSpan MostRunning = TimeSpan.FromSeconds(60);

    /// <summary>Most a float output may differ, as part of the largest value of its output: rounding of some operations in a row.</summary>
    const double FloatRounding = 2e-4;

    /// <param name="inputs">A row for each step, in the order of the unit's inputs.</param>
    /// <exception cref="DeliveryException">The code does not compile or run.</exception>
    public static BackToBackResult Compare(CodeUnit unit, IReadOnlyList<double[]> inputs, CancellationToken wanted = default)
    {
        if (!NativeCode.HasCompiler)
            throw new DeliveryException("compiler", "There is no C compiler on this machine.", "Install gcc.");
        var folder = Directory.CreateTempSubdirectory("unit-").FullName;
        try
        {
            var files = CWriter.Write(unit);
            foreach (var file in files)
                File.WriteAllText(Path.Combine(folder, file.Name), file.Text);
            File.WriteAllText(Path.Combine(folder, Harness), Host(unit, files[0].Name));
            var compiled = NativeCode.Compile(folder, ["./" + Harness, files[1].Name], wanted);
            if (!compiled.Succeeded)
                throw new DeliveryException(
                    "compile",
                    $"The code does not compile: {compiled.Messages}",
                    "Tell the makers of Anchor Bend."
                );
            var (given, made) = (Path.Combine(folder, "in.bin"), Path.Combine(folder, "out.bin"));
            using (var writer = new BinaryWriter(File.Create(given)))
            {
                foreach (var row in inputs)
                foreach (var value in row)
                    writer.Write(value);
                // A unit without inputs is told how many steps by bytes.
                if (unit.Inputs.Count == 0)
                    writer.Write(new byte[inputs.Count]);
            }

            NativeCode.Execute(compiled.Program, folder, given, made, MostRunning, wanted);
            return Compared(unit, inputs, made, compiled.Messages, wanted);
        }
        finally
        {
            Directory.Delete(folder, true);
        }
    }

    static BackToBackResult Compared(CodeUnit unit, IReadOnlyList<double[]> inputs, string made, string said, CancellationToken wanted)
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
                wanted.ThrowIfCancellationRequested();
            reference.Step(from, inputs[step], to, results);
            for (var i = 0; i < to.Length; i++)
            {
                var code = reader.ReadDouble();
                var model = results[i];
                sizes[i] = Math.Max(sizes[i], Math.Abs(model));
                apart[i] = Math.Max(apart[i], Math.Abs(model - code));
                var same = unit.Request.IsFloat
                    ? Math.Abs(model - code) <= FloatRounding * Math.Max(sizes[i], 1e-3) || double.IsNaN(model) && double.IsNaN(code)
                    : model.Equals(code);
                if (!same)
                    first ??= new Parting(unit.Outputs[i].Name, step, model, code);
            }
        }

        return new BackToBackResult(said, inputs.Count, first, unit.Outputs.Select((o, i) => (o.Name, apart[i])).ToDictionary());
    }

    /// <summary>A program that feeds the code from a file and writes what comes out to another.</summary>
    static string Host(CodeUnit unit, string header)
    {
        var places = new CPlaces(unit);
        var prefix = Path.GetFileNameWithoutExtension(header);
        var text = new StringBuilder();
        void Line(string line) => text.Append(line).Append('\n');
        var real = unit.Request.IsFloat ? "float" : "double";
        var (ins, outs) = (unit.Inputs.Count, unit.Outputs.Count);
        Line($"#include \"{header}\"");
        Line("#include <stdio.h>");
        Line("int main(int argc, char **argv)");
        Line("{");
        Line($"    static {prefix}_state s;");
        if (unit.Tunable.Count > 0)
            Line($"    static {prefix}_parameters p;");
        if (ins > 0)
            Line($"    static {prefix}_inputs u;");
        Line($"    static {prefix}_outputs y;");
        Line(string.Create(CultureInfo.InvariantCulture, $"    double in[{Math.Max(1, ins)}];"));
        Line(string.Create(CultureInfo.InvariantCulture, $"    double out[{outs}];"));
        Line("    FILE *from;");
        Line("    FILE *to;");
        Line("    if (argc != 3) { return 2; }");
        Line("    from = fopen(argv[1], \"rb\");");
        Line("    to = fopen(argv[2], \"wb\");");
        Line("    if ((from == NULL) || (to == NULL)) { return 3; }");
        if (unit.Tunable.Count > 0)
            Line($"    {prefix}_defaults(&p);");
        var p = unit.Tunable.Count > 0 ? ", &p" : "";
        Line($"    {prefix}_start(&s{p});");
        Line(
            ins > 0
                ? string.Create(CultureInfo.InvariantCulture, $"    while (fread(in, sizeof(double), {ins}U, from) == {ins}U) {{")
                : "    while (fread(in, 1U, 1U, from) == 1U) {"
        );
        foreach (var ((name, port), i) in places.Inputs.Select((v, i) => (v, i)))
            Line(
                port.Variable.Type switch
                {
                    ScalarType.Boolean => $"        u.{name} = in[{i}] != 0.0;",
                    ScalarType.Real => $"        u.{name} = ({real})in[{i}];",
                    _ => $"        u.{name} = (int32_t)in[{i}];",
                }
            );
        Line($"        {prefix}_step(&s{p}{(ins > 0 ? ", &u" : "")}, &y);");
        foreach (var ((name, port), i) in places.Outputs.Select((v, i) => (v, i)))
            Line(
                port.Variable.Type == ScalarType.Boolean
                    ? $"        out[{i}] = y.{name} ? 1.0 : 0.0;"
                    : $"        out[{i}] = (double)y.{name};"
            );
        Line(
            string.Create(CultureInfo.InvariantCulture, $"        if (fwrite(out, sizeof(double), {outs}U, to) != {outs}U) {{ return 4; }}")
        );
        Line("    }");
        Line("    return fclose(to) == 0 ? 0 : 5;");
        Line("}");
        return text.ToString();
    }
}
