namespace AnchorBend.Media;

/// <summary>Friction and heat transfer of flow through pipes.</summary>
public static class PipeFlow
{
    /// <summary>Reynolds numbers up to which flow is laminar, and from which it is turbulent.</summary>
    const double Laminar = 2000,
        Turbulent = 4000;

    /// <summary>
    /// Reynolds number by what drives the flow, k = f Re² = 2 Δp ρ D³ / (L µ²), of which friction factors are free: laminar Re = k/64
    /// (Hagen and
    /// Poiseuille), turbulent Re = −2 √k log10(ε/3.7 + 2.51/√k) (Colebrook 1939, explicit in √k), between them a cubic of the logarithms.
    /// </summary>
    /// <param name="drive">With the sign of the pressure drop.</param>
    /// <param name="roughness">Roughness by diameter.</param>
    public static double Reynolds(double drive, double roughness)
    {
        var k = Math.Abs(drive);
        const double begins = 64 * Laminar;
        if (k <= begins)
            return drive / 64;
        var root = Math.Sqrt(k);
        var turbulent = -2 * root * Math.Log10(roughness / 3.7 + 2.51 / root);
        // Where turbulent flow of this pipe has the Reynolds number that ends the change; no friction factor is larger than 0.1 there.
        var ends = k > 0.1 * Turbulent * Turbulent ? 0 : End(roughness);
        if (k >= ends)
            return Math.CopySign(turbulent, drive);
        // Hermite's cubic in log Re over log k, with the slopes of both laws at its ends.
        var (x0, x1) = (Math.Log(begins), Math.Log(ends));
        var width = x1 - x0;
        var t = (Math.Log(k) - x0) / width;
        var rootEnd = Math.Sqrt(ends);
        var inner = roughness / 3.7 + 2.51 / rootEnd;
        // d log Re / d log √k of Colebrook, halved for log k.
        var slope = (1 - 2.51 / rootEnd / (inner * Math.Log(inner))) / 2;
        var (a, b) = (Math.Log(Laminar), Math.Log(Turbulent));
        var (da, db) = (width, slope * width);
        var c = 3 * (b - a) - 2 * da - db;
        var d = 2 * (a - b) + da + db;
        return Math.CopySign(Math.Exp(a + t * (da + t * (c + t * d))), drive);
    }

    /// <summary>k at the Reynolds number from which flow is turbulent, by fixed-point steps, each of which gains a digit.</summary>
    static double End(double roughness)
    {
        var root = 800.0;
        for (var i = 0; i < 40; i++)
        {
            var next = Turbulent / (-2 * Math.Log10(roughness / 3.7 + 2.51 / root));
            if (Math.Abs(next - root) < 1e-13 * root)
                return next * next;
            root = next;
        }

        return root * root;
    }

    /// <summary>
    /// Mean Nusselt number: laminar with constant wall temperature and developing flow (Hausen), turbulent after Gnielinski with
    /// Filonenko's friction
    /// factor, between Reynolds numbers of 2300 and 10⁴ on a straight line between both (Gnielinski, Int. J. Heat Mass Transfer 63, 2013).
    /// </summary>
    /// <param name="slenderness">Diameter by length.</param>
    public static double Nusselt(double reynolds, double prandtl, double slenderness)
    {
        const double low = 2300,
            high = 1e4;
        var re = Math.Abs(reynolds);
        double Slow(double r)
        {
            var graetz = r * prandtl * slenderness;
            return 3.66 + 0.0668 * graetz / (1 + 0.04 * Math.Pow(graetz, 2.0 / 3));
        }

        double Fast(double r)
        {
            var root = 0.79 * Math.Log(r) - 1.64;
            var f8 = 1 / (8 * root * root);
            return f8
                * (r - 1000)
                * prandtl
                / (1 + 12.7 * Math.Sqrt(f8) * (Math.Pow(prandtl, 2.0 / 3) - 1))
                * (1 + Math.Pow(slenderness, 2.0 / 3));
        }

        if (re <= low)
            return Slow(re);
        if (re >= high)
            return Fast(re);
        var share = (re - low) / (high - low);
        return (1 - share) * Slow(low) + share * Fast(high);
    }
}
