/// <summary>A problem that a C program solves too, under the same name.</summary>
/// <param name="Absolute">Absolute tolerance as a multiple of the relative one.</param>
/// <param name="Outputs">The values compared at the end.</param>
sealed record Problem(string Name, string Text, double End, double Absolute, string[] Outputs);

static class Problems
{
    const int Cells = 250;

    static string[] Numbered(string name, int count) => [.. Enumerable.Range(1, count).Select(i => $"{name}[{i}]")];

    public static readonly Problem[] Stiff =
    [
        new(
            "robertson",
            "model M Real a(start=1), b, c; equation der(a) = -0.04*a + 1e4*b*c; der(b) = 0.04*a - 1e4*b*c - 3e7*b^2; der(c) = 3e7*b^2; end M;",
            1e5,
            1e-4,
            ["a", "b", "c"]
        ),
        new("vdp", "model M Real x(start=2), v; equation der(x) = v; der(v) = 1000*(1 - x^2)*v - x; end M;", 1500, 1, ["x"]),
        new(
            "hires",
            """
            model M Real y[8](start={1,0,0,0,0,0,0,0.0057}); equation
            der(y[1]) = -1.71*y[1] + 0.43*y[2] + 8.32*y[3] + 0.0007; der(y[2]) = 1.71*y[1] - 8.75*y[2];
            der(y[3]) = -10.03*y[3] + 0.43*y[4] + 0.035*y[5]; der(y[4]) = 8.32*y[2] + 1.71*y[3] - 1.12*y[4];
            der(y[5]) = -1.745*y[5] + 0.43*y[6] + 0.43*y[7]; der(y[6]) = -280*y[6]*y[8] + 0.69*y[4] + 1.71*y[5] - 0.43*y[6] + 0.69*y[7];
            der(y[7]) = 280*y[6]*y[8] - 1.81*y[7]; der(y[8]) = -280*y[6]*y[8] + 1.81*y[7]; end M;
            """,
            321.8122,
            1e-3,
            [.. Enumerable.Range(1, 8).Select(i => $"y[{i}]")]
        ),
        new(
            "orego",
            "model M Real a(start=1), b(start=2), c(start=3); equation der(a) = 77.27*(b + a*(1 - 8.375e-6*a - b)); der(b) = (c - (1 + a)*b)/77.27; der(c) = 0.161*(a - c); end M;",
            360,
            1e-3,
            ["a", "b", "c"]
        ),
        new(
            "bruss",
            $"""
            model M Real u[{Cells}](start={"{"}1 + sin(2*3.141592653589793*i/{Cells
                + 1}) for i in 1:{Cells}{"}"}), v[{Cells}](each start=3); parameter Real a = 0.02*{Cells + 1}^2;
            equation for i in 1:{Cells} loop
            der(u[i]) = 1 + u[i]^2*v[i] - 4*u[i] + a*((if i > 1 then u[max(i - 1, 1)] else 1) - 2*u[i] + (if i < {Cells} then u[min(i + 1, {Cells})] else 1));
            der(v[i]) = 3*u[i] - u[i]^2*v[i] + a*((if i > 1 then v[max(i - 1, 1)] else 3) - 2*v[i] + (if i < {Cells} then v[min(i + 1, {Cells})] else 3));
            end for; end M;
            """,
            10,
            1,
            [.. Enumerable.Range(1, Cells).SelectMany(i => new[] { $"u[{i}]", $"v[{i}]" })]
        ),
    ];

    /// <summary>What an explicit method suits: smooth, oscillating, a large causal diagram, sampled control, many events, a
    /// delay.</summary>
    public static readonly Problem[] Explicit =
    [
        new(
            "orbit",
            """
            model M parameter Real mu = 0.012277471; Real x(start = 0.994), y, u, v(start = -2.00158510637908252240537862224), a, b, p, q; equation
            a = (x + mu)^2 + y^2; b = (x - (1 - mu))^2 + y^2; p = (1 - mu)/(a*sqrt(a)); q = mu/(b*sqrt(b));
            der(x) = u; der(y) = v; der(u) = x + 2*v - p*(x + mu) - q*(x - (1 - mu)); der(v) = y - 2*u - p*y - q*y; end M;
            """,
            17.0652165601579625588917206249,
            1,
            ["x", "y"]
        ),
        new(
            "stars",
            """
            model M Real x[7](start={3,3,-1,-3,2,-2,2}), y[7](start={3,-3,2,0,0,-4,4}), u[7](start={0,0,0,0,0,1.75,-1.5}), v[7](start={0,0,0,-1.25,1,0,0}), w[7, 7]; equation
            for i in 1:7 loop for j in 1:7 loop
            w[i, j] = if i == j then 0 else j/(((x[j] - x[i])^2 + (y[j] - y[i])^2)*sqrt((x[j] - x[i])^2 + (y[j] - y[i])^2)); end for;
            der(x[i]) = u[i]; der(y[i]) = v[i]; der(u[i]) = sum(w[i, j]*(x[j] - x[i]) for j in 1:7); der(v[i]) = sum(w[i, j]*(y[j] - y[i]) for j in 1:7); end for; end M;
            """,
            3,
            1,
            [.. Numbered("x", 7), .. Numbered("y", 7)]
        ),
        new("chain", Chain(100), 20, 1, Numbered("x", 100)),
        new(
            "causal",
            """
            model M Real s[300], g[300], x[300]; equation
            for i in 1:300 loop
            s[i] = (if i > 1 then x[max(i - 1, 1)] else sin(time)) - (if mod(i - 1, 3) == 0 and i < 300 then 0.4*x[min(i + 1, 300)] else 0);
            g[i] = 0.98*s[i]; (0.2 + 0.001*i)*der(x[i]) = g[i] - x[i]; end for; end M;
            """,
            20,
            1,
            Numbered("x", 300)
        ),
        new(
            "sampled",
            """
            model M Real x[3]; discrete Real i, u; Real e = 1 - x[3]; equation
            when sample(0, 0.01) then i = pre(i) + 0.01*1.2*e; u = 0.9*e + i; end when;
            der(x[1]) = (u - x[1])/0.02; der(x[2]) = (2*x[1] - x[2])/0.3; der(x[3]) = (x[2] - x[3])/0.5 + 0.1*sin(3*time); end M;
            """,
            20,
            1,
            Numbered("x", 3)
        ),
        new(
            "relay",
            """
            model M Real x[2]; Boolean on(start = true); equation
            on = pre(on) and x[1] < 1 or x[1] < -1;
            der(x[1]) = x[2]; der(x[2]) = (if on then 30 else -30) - 4*x[1] - 0.8*x[2]; end M;
            """,
            200,
            1,
            Numbered("x", 2)
        ),
        new(
            "delayed",
            """
            model M Real x(start = 0.5, fixed = true), d; equation d = delay(x, 6); der(x) = 0.2*d/(1 + d^10) - 0.1*x; end M;
            """,
            300,
            1,
            ["x"]
        ),
    ];

    /// <summary>Masses in a row, shaken at one end: three equations each.</summary>
    public static string Chain(int n) =>
        $"""
            model Chain
              parameter Real k = 40, d = 0.3, m = 1.5;
              Real x[{n}], v[{n}], force[{n}];
            equation
              force[1] = k * (sin(time) - x[1]) + d * (cos(time) - v[1]);
              for i in 2:{n} loop force[i] = k * (x[i - 1] - x[i]) + d * (v[i - 1] - v[i]); end for;
              for i in 1:{n} loop
                der(x[i]) = v[i];
                m * der(v[i]) = force[i] - (if i < {n} then force[min(i + 1, {n})] else 0);
              end for;
            end Chain;
            """;
}
