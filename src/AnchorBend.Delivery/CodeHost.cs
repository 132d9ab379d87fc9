using System.Globalization;
using System.Text;
using AnchorBend.Language.Binding;

namespace AnchorBend.Delivery;

/// <summary>A program in C that feeds a unit's code from a file and writes what comes out to another.</summary>
static class CodeHost
{
    /// <summary>No unit's file can be called so.</summary>
    public const string File = "-host.c";

    /// <summary>It reads the values of the tunable parameters, then a row of inputs for each step.</summary>
    public static string Of(CodeUnit unit, string header)
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
        foreach (var (name, _) in places.Tunable)
        {
            Line("    if (fread(in, sizeof(double), 1U, from) != 1U) { return 6; }");
            Line($"    p.{name} = ({real})in[0];");
        }

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
