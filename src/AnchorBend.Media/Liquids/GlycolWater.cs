namespace AnchorBend.Media.Liquids;

/// <summary>
/// Ethylene glycol and water: the equations that Conde gives in τ = 273.15/T and the share of glycol (Thermophysical Properties of
/// Brines, 2011,
/// table for ethylene glycol).
/// </summary>
/// <param name="glycol">kg of glycol in a kg of mixture, up to 0.6.</param>
sealed class GlycolWater(double glycol) : LiquidMedium
{
    readonly double x = Math.Clamp(glycol, 0, 0.6);

    protected override double Modulus => 2.6e9;

    protected override (double, double) Range => (-45, 100);

    static double Inverse(double t) => 273.15 / (t + 273.15);

    double Of(double t, double a, double b, double c, double d, double e) =>
        Inverse(t) is var i ? a + b * x + c * i + d * x * i + e * i * i : 0;

    protected override double Density0(double t) => Of(t, 658.49825, -54.81501, 664.71643, 232.72605, -322.61661);

    protected override double HeatCapacity0(double t) => 1000 * Of(t, 5.36449, 0.78863, -2.59001, -2.73187, 1.43759);

    protected override double Heat0(double t)
    {
        var (T, T0) = (t + 273.15, 273.15);
        // 1/T and 1/T² integrated.
        return 1000
            * ((5.36449 + 0.78863 * x) * t + (-2.59001 - 2.73187 * x) * T0 * Math.Log(T / T0) - 1.43759 * T0 * T0 * (1 / T - 1 / T0));
    }

    protected override double Viscosity0(double t) => Math.Exp(Of(t, -4.63024, -2.14817, -12.70106, 5.40536, 10.98990));

    protected override double Conductivity0(double t) => Of(t, 0.83818, -1.37620, -0.07629, 1.07720, -0.20174);
}
