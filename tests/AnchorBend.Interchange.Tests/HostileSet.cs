namespace AnchorBend.Interchange.Tests;

/// <summary>Texts and documents made to cost much, to overflow, to recurse or to be misread; each is small.</summary>
static class HostileSet
{
    static string Repeat(string text, int count) => string.Concat(Enumerable.Repeat(text, count));

    static string Model(string body) => $"model M {body} end M;";

    /// <summary>Functions that each call the one before twice.</summary>
    static string Doubling(int count) =>
        "function f0 input Real x; output Real y; algorithm y := sin(x); end f0; "
        + string.Join(
            ' ',
            Enumerable
                .Range(1, count)
                .Select(k => $"function f{k} input Real x; output Real y; algorithm y := f{k - 1}(x) + f{k - 1}(x + 1); end f{k};")
        )
        + Model($"Real x; equation x = f{count}(time);");

    /// <summary>Models that each hold two of the one before.</summary>
    static string Levels(int count) =>
        "model L0 Real x; equation x = time; end L0; "
        + string.Join(' ', Enumerable.Range(1, count).Select(k => $"model L{k} L{k - 1} a, b; end L{k};"))
        + Model($"L{count} m;");

    /// <summary>Classes that each have the one before twice as their base.</summary>
    static string Bases(string kind) =>
        $"{kind} B0 {(kind == "function" ? "input Real u; output Real y; algorithm y := u;" : "Real u;")} end B0; "
        + string.Join(' ', Enumerable.Range(1, 40).Select(k => $"{kind} B{k} extends B{k - 1}; extends B{k - 1}; end B{k};"))
        + Model(
            kind == "function" ? "Real x; equation x = B40(time);"
            : kind == "record" ? "B40 b = B40(1); Real x; equation x = b.u;"
            : "B40 b; equation b.u = time;"
        );

    const string Twice =
        "function f input Real x; input Integer n; output Real y; algorithm if n <= 0 then y := x; else y := f(x, n - 1) + f(x, n - 1); end if; end f; ";

    static string Coupled(int n) =>
        Model(
            $"Real y[{n}]; Real x(start = 1, fixed = true); equation der(x) = -x; for i in 1:{n} loop y[i] = sin(sum(y)) + x * i; end for;"
        );

    public static readonly string[] Texts =
    [
        "",
        " ",
        "\0",
        "\u0001\u0002\ufffd",
        "model",
        "model M",
        "model M end N;",
        "model if Real x; end if;",
        "end M;",
        ";;;;",
        Repeat("(", 50_000),
        Repeat("model M ", 20_000),
        "/*" + Repeat("x", 100_000),
        "\"" + Repeat("a", 100_000),
        Repeat("model A end A; ", 5_000),
        Model(
            "Real x; equation "
                + string.Concat(Enumerable.Range(0, 12).Select(k => $"for i{k} in 1:10 loop "))
                + "x = 1;"
                + Repeat(" end for;", 12)
        ),
        Model("Real x[1000000]; equation for i in 1:1000000 loop x[i] = i; end for;"),
        Model("Real x; equation x = sum(i * j * k for i in 1:1000, j in 1:1000, k in 1:1000);"),
        Twice + Model("Real x; equation x = f(time, 60);"),
        "function f input Real x; output Real y; algorithm y := f(x); end f; " + Model("Real x; equation x = f(time);"),
        Doubling(40),
        Levels(19),
        Levels(40),
        Coupled(600),
        Coupled(3000),
        Model("parameter Real a[2000, 2000] = fill(1, 2000, 2000); Real x; equation x = a[1, 1];"),
        Model("Real x[65536, 65536, 65536, 65536]; equation x[1, 1, 1, 1] = 1;"),
        Model("Real x[-5];"),
        Model("Real x[1e300];"),
        Model("Real x[integer(1e9)];"),
        Model(
            "Real x[1000]; Real y; equation for i in 1:1000 loop x[i] = sin(i * time); end for; y = sum(x[i] * x[j] for i in 1:1000, j in 1:1000);"
        ),
        Model(
            "Real x[400]; Real y; equation for i in 1:400 loop x[i] = sin(i * time); end for; y = sum(x[i] * x[j] for i in 1:400, j in 1:400);"
        ),
        Model("parameter Real a[3000, 3000] = identity(3000);"),
        Model("parameter Real a[:, :, :] = fill(0, 3000, 3000, 3000);"),
        Model("parameter Real a[:] = linspace(0, 1, 10000000);"),
        Model("parameter Real a[:] = 1:9000000;"),
        Model("parameter Real a[:] = 1:1e-9:1;"),
        Model("Real x; algorithm x := 0; while true loop x := x + 1; end while;"),
        Model("parameter Real a[1000, 1000] = ones(1000, 1000) * ones(1000, 1000); Real x; equation x = a[1, 1];"),
        Model("Real x(start = 1); Real y; equation der(x) = -x; y = " + string.Join('*', Enumerable.Repeat("sin(x)", 1400)) + ";"),
        Model("Real x; equation x = " + Repeat("sin(", 390) + "time" + Repeat(")", 390) + ";"),
        Model("Real x; equation x = 1" + Repeat(" + 1", 1400) + ";"),
        Model("Real x; equation x = " + Repeat("-", 5000) + "1;"),
        Model("Real x[2000]; equation x[1] = time; for i in 2:2000 loop x[i] = x[i - 1] * sin(x[i - 1]) + cos(x[i - 1]); end for;"),
        Bases("model"),
        Bases("function"),
        Bases("record"),
        Model("parameter Real a = b; parameter Real b = a;"),
        Model("parameter Integer n = size(x, 1); Real x[n];"),
        "model M extends M; end M;",
        "model A extends B; end A; model B extends A; end B; model M A a; end M;",
        "model M M m; end M;",
        "type T = U; type U = T; " + Model("T x;"),
        Model("constant Real c = c + 1; Real x; equation x = c;"),
        Model("Real x = x;"),
        Model("Real x; equation x = x;"),
        Model("Real x; equation 0 = 0 * x;"),
        Model("Real x; equation x = 1e400;"),
        Model("Real x; equation x = 0 / 0;"),
        Model("Real x(start = 1e308, fixed = true); equation der(x) = x ^ 9;"),
        Model("discrete Real x; equation when sample(0, 1e-12) then x = pre(x) + 1; end when;"),
        Model("discrete Real x; equation when sample(0, 0) then x = 1; end when;"),
        Model("Real x(start = 0, fixed = true), y; equation der(x) = 1; y = delay(x, 1e-12);"),
        Model("Real x, y; equation der(x) = 1; y = delay(x, -1);"),
        Model(
            "Real x(start = 1, fixed = true); equation der(x) = 0; when x > 0.5 then reinit(x, 0); elsewhen x < 0.5 then reinit(x, 1); end when;"
        ),
        Model("Boolean b; equation b = not b;"),
        Model("Boolean b; equation b = not pre(b);"),
        Model("Real x; equation x = interpolate(time, {0, 0, 0}, {1, 2, 3});"),
        Model("Real x; equation x = sin(1e8 * time);"),
        Model("Real x(start = 1, fixed = true); equation der(x) = -1e12 * x;"),
        Model("Integer n; equation n = integer(1e300);"),
        Model("Real 'a b\"<script>';"),
        Model("Real x annotation(" + Repeat("a(", 300) + Repeat(")", 300) + ");"),
        Model("Real a[50], b[50]; equation for i in 1:50 loop der(a[i]) = b[i]; a[i] = sum(b) + a[51 - i] * time; end for;"),
    ];

    static string Document(string rest) => "{\"format\":\"anchor-bend-model/1\",\"name\":\"M\"" + rest + "}";

    public static readonly string[] Documents =
    [
        "",
        "null",
        "[]",
        "[1,2,3]",
        "\"text\"",
        "42",
        "{}",
        "{",
        "hello",
        "\u0089PNG\r\n\u001a\n",
        "a,b,c\n1,2,3",
        "{\"format\":99}",
        "{\"format\":\"anchor-bend-model/99\",\"name\":3}",
        Document(",\"parts\":null"),
        Document(",\"parts\":[]"),
        Document(",\"parts\":{\"p\":null}"),
        Document(",\"parts\":{\"p\":{}}"),
        Document(",\"parts\":{\"p\":{\"type\":\"Gain\",\"name\":\"\"}}"),
        Document(",\"Parts\":{}"),
        Document(",\"extra\":1"),
        Document(",\"name\":\"again\""),
        Document(",\"parts\":{\"p\":{\"type\":\"Gain\",\"name\":\"A\",\"x\":1e400}}"),
        Document(",\"parts\":{\"p\":{\"type\":\"Gain\",\"name\":\"A\",\"name\":\"B\"}}"),
        Document(",\"description\":" + Repeat("[", 200) + Repeat("]", 200)),
        Document(",\"description\":\"" + Repeat("x", 2_000_000) + "\""),
        "{\"format\":\"anchor-bend-model/1\",\"name\":\"" + Repeat("n", 1_000_000) + "\"}",
        Document(",\"wires\":{\"w\":{\"from\":{\"part\":\"a\",\"port\":\"y\"},\"to\":null}}"),
        Document(",\"wires\":{\"w\":{\"from\":{\"part\":\"a\",\"port\":\"y\"},\"to\":{\"part\":\"b\",\"port\":\"u\"}}}"),
        Document(",\"settings\":null"),
        Document(",\"settings\":{\"end\":5}"),
        Document(",\"settings\":{\"end\":\"abc\",\"method\":\"none\"}"),
        Document(",\"requirements\":{\"r\":{\"name\":\"R\",\"signal\":\"nothing\",\"limit\":null}}"),
        Document(",\"signals\":{\"\":{}}"),
        Document(",\"areas\":{\"a\":null}"),
        Document(",\"classes\":{\"C\":{\"text\":null}}"),
        Document(
            ",\"parts\":{"
                + string.Join(',', Enumerable.Range(0, 100_000).Select(i => $"\"p{i}\":{{\"type\":\"Gain\",\"name\":\"G{i}\"}}"))
                + "}"
        ),
        Document(",\"parts\":{\"p\":{\"type\":\"Gain\",\"name\":\"A\",\"parameters\":{\"k\":\"" + Repeat("(", 90_000) + "\"}}}"),
        Document(",\"parts\":{\"p\":{\"type\":\"Sum\",\"name\":\"A\",\"parameters\":{\"signs\":\"fill(1, 1000000)\"}}}"),
        Document(",\"parts\":{\"p\":{\"type\":\"Gain\",\"name\":\"if\"}}"),
        Document(",\"parts\":{\"p\":{\"type\":\"Gain\",\"name\":\"a.b\"},\"q\":{\"type\":\"Gain\",\"name\":\"a\"}}"),
    ];
}
