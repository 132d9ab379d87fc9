using System.Globalization;
using System.Text;
using AnchorBend.Language.Binding;

namespace AnchorBend.Delivery.Targets;

/// <summary>
/// A program in C that has the code of one or more units and does with it what it is asked over its standard input: begins, steps, tells
/// and takes the states that are integrated, saves and goes back. It tells what each step has cost.
/// </summary>
static class TargetHost
{
    /// <summary>No unit's file can be called so.</summary>
    public const string File = "-target.c";

    /// <param name="units">With the names of their headers.</param>
    /// <param name="surroundings">How bytes come and go, and how steps are measured: this machine's, or a board's.</param>
    public static string Of(IReadOnlyList<(CodeUnit Unit, string Header)> units, string surroundings)
    {
        var text = new StringBuilder("#define _POSIX_C_SOURCE 199309L\n");
        foreach (var (_, header) in units)
            text.Append(CultureInfo.InvariantCulture, $"#include \"{header}\"\n");
        text.Append(Top);
        for (var i = 0; i < units.Count; i++)
            Unit(text, i, units[i].Unit, Path.GetFileNameWithoutExtension(units[i].Header));
        text.Append("static const struct unit units[] = {\n");
        for (var i = 0; i < units.Count; i++)
        {
            var unit = units[i].Unit;
            text.Append(
                CultureInfo.InvariantCulture,
                $"    {{ &s{i}, &before{i}, sizeof s{i}, {unit.Inputs.Count + unit.Tunable.Count}, {unit.Outputs.Count}, "
                    + $"{CWriter.RememberedFields(unit).Count}, begin{i}, step{i}, states{i} }},\n"
            );
        }

        text.Append(CultureInfo.InvariantCulture, $"}};\n#define UNITS {units.Count}\n");
        text.Append(surroundings).Append(Rest);
        return text.ToString();
    }

    static void Unit(StringBuilder text, int at, CodeUnit unit, string prefix)
    {
        void Line(string line) => text.Append(line).Append('\n');
        var places = new CPlaces(unit);
        var real = unit.Request.IsFloat ? "float" : "double";
        var (ins, own) = (unit.Inputs.Count > 0, unit.Tunable.Count > 0);
        Line($"static {prefix}_state s{at}, before{at};");
        Line($"static {prefix}_outputs y{at};");
        if (ins)
            Line($"static {prefix}_inputs u{at};");
        if (own)
            Line($"static {prefix}_parameters p{at};");
        var p = own ? $", &p{at}" : "";
        Line($"static void begin{at}(const double *in)");
        Line("{");
        Line($"    memset(&s{at}, 0, sizeof s{at});");
        Line("    (void)in;");
        if (own)
            Line($"    {prefix}_defaults(&p{at});");
        Given();
        Line($"    {prefix}_start(&s{at}{p});");
        Line("}");
        Line($"static void step{at}(const double *in, double *out)");
        Line("{");
        Line("    (void)in;");
        Given();
        Line($"    {prefix}_step(&s{at}{p}{(ins ? $", &u{at}" : "")}, &y{at});");
        foreach (var ((name, port), i) in places.Outputs.Select((v, i) => (v, i)))
            Line(
                port.Variable.Type == ScalarType.Boolean
                    ? FormattableString.Invariant($"    out[{i}] = y{at}.{name} ? 1.0 : 0.0;")
                    : FormattableString.Invariant($"    out[{i}] = (double)y{at}.{name};")
            );
        Line("}");
        Line($"static void states{at}(double *x, int take)");
        Line("{");
        Line("    (void)x;");
        Line("    (void)take;");
        foreach (var (names, i) in CWriter.RememberedFields(unit).Select((v, i) => (v, i)))
        {
            Line(FormattableString.Invariant($"    if (take == 0) {{ x[{i}] = (double)s{at}.{names[0]}; }}"));
            foreach (var name in names)
                Line(FormattableString.Invariant($"    if (take != 0) {{ s{at}.{name} = ({real})x[{i}]; }}"));
        }

        Line("}");

        void Given()
        {
            foreach (var ((name, port), i) in places.Inputs.Select((v, i) => (v, i)))
                Line(
                    port.Variable.Type switch
                    {
                        ScalarType.Boolean => FormattableString.Invariant($"    u{at}.{name} = in[{i}] != 0.0;"),
                        ScalarType.Real => FormattableString.Invariant($"    u{at}.{name} = ({real})in[{i}];"),
                        _ => FormattableString.Invariant($"    u{at}.{name} = (int32_t)in[{i}];"),
                    }
                );
            foreach (var ((name, _), i) in places.Tunable.Select((v, i) => (v, i + unit.Inputs.Count)))
                Line(FormattableString.Invariant($"    p{at}.{name} = ({real})in[{i}];"));
        }
    }

    static readonly string Top = """
        #include <stddef.h>
        #include <stdint.h>
        #include <string.h>
        struct unit {
            void *state;
            void *before;
            size_t size;
            int ins;
            int outs;
            int states;
            void (*begin)(const double *);
            void (*step)(const double *, double *);
            void (*exchange)(double *, int);
        };

        """;

    /// <summary>Longest row of inputs or outputs.</summary>
    public const int MostValues = 4096;

    static readonly string Rest = $$"""
        static double row[{{MostValues}}];
        static double made[{{MostValues}} + 1];
        int main(void)
        {
            int what;
            while ((what = next()) >= 0) {
                int32_t at = 0;
                int32_t count = 0;
                int i;
                if ((take(&at, sizeof at) == 0) || (at < 0) || (at >= UNITS)) { return 2; }
                const struct unit *const u = &units[at];
                const size_t in = sizeof(double) * (size_t)u->ins;
                const size_t out = sizeof(double) * (size_t)u->outs;
                const size_t states = sizeof(double) * (size_t)u->states;
                switch (what) {
                case 'b':
                    if (take(row, in) == 0) { return 2; }
                    u->begin(row);
                    memcpy(u->before, u->state, u->size);
                    give(&count, sizeof count);
                    break;
                case 's':
                    if ((take(&count, sizeof count) == 0) || (take(row, in) == 0)) { return 2; }
                    if (count != 0) { memcpy(u->state, u->before, u->size); } else { memcpy(u->before, u->state, u->size); }
                    begin_count();
                    u->step(row, made);
                    made[u->outs] = counted();
                    give(made, out + sizeof(double));
                    break;
                case 'r':
                    if (take(&count, sizeof count) == 0) { return 2; }
                    for (i = 0; i < count; i++) {
                        if (take(row, in) == 0) { return 2; }
                        u->step(row, made);
                        give(made, out);
                    }
                    break;
                case 'x':
                    u->exchange(made, 0);
                    give(made, states);
                    break;
                case 'w':
                    if (take(row, states) == 0) { return 2; }
                    u->exchange(row, 1);
                    give(&count, sizeof count);
                    break;
                case 'g':
                    give(u->state, u->size);
                    give(u->before, u->size);
                    break;
                case 'p':
                    if ((take(u->state, u->size) == 0) || (take(u->before, u->size) == 0)) { return 2; }
                    give(&count, sizeof count);
                    break;
                case 'z':
                    count = (int32_t)u->size;
                    give(&count, sizeof count);
                    break;
                case 'd':
                    count = depth();
                    give(&count, sizeof count);
                    break;
                case 'n':
                    count = (int32_t)u->states;
                    give(&count, sizeof count);
                    break;
                default:
                    return 2;
                }
                flush();
            }
            return 0;
        }

        """;

    /// <summary>A process of this machine: bytes by its standard input and output, steps measured by its clock, in ns.</summary>
    public static readonly string Process = """
        #include <stdio.h>
        #include <time.h>
        static int next(void) { return getchar(); }
        static int take(void *to, size_t size) { return (size == 0U) || (fread(to, size, 1U, stdin) == 1U); }
        static void give(const void *from, size_t size) { if (size > 0U) { (void)fwrite(from, size, 1U, stdout); } }
        static void flush(void) { (void)fflush(stdout); }
        static double begun;
        static double now(void)
        {
            struct timespec t;
            (void)clock_gettime(CLOCK_MONOTONIC, &t);
            return ((double)t.tv_sec * 1e9) + (double)t.tv_nsec;
        }
        static void begin_count(void) { begun = now(); }
        static double counted(void) { return now() - begun; }
        static int32_t depth(void) { return 0; }

        """;
}
