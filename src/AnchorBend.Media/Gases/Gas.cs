namespace AnchorBend.Media.Gases;

/// <summary>
/// A pure ideal gas: molar heat capacity as two polynomials over temperature (form and numbers of the NASA polynomials with seven factors,
/// as in GRI-Mech 3.0 after Burcat and Ruscic, ANL-05/20), viscosity after Sutherland (White, Viscous Fluid Flow, 3rd ed., table 1-2).
/// </summary>
/// <param name="Mass">Molar mass, kg/mol.</param>
/// <param name="Low">Factors from 200 to 1000 K; the sixth is that of the enthalpy.</param>
/// <param name="High">Factors from 1000 K on.</param>
/// <param name="Viscosity0">Pa·s at the temperature below.</param>
/// <param name="Temperature0">K.</param>
/// <param name="Sutherland">K.</param>
sealed record Gas(string Name, double Mass, double[] Low, double[] High, double Viscosity0, double Temperature0, double Sutherland)
{
    /// <summary>Molar gas constant (exact since the SI of 2019), J/(mol·K).</summary>
    public const double Molar = 8.31446261815324;

    const double Change = 1000;

    public static readonly Gas Nitrogen = new(
        "nitrogen",
        28.0134e-3,
        [3.298677, 1.4082404e-3, -3.963222e-6, 5.641515e-9, -2.444854e-12, -1020.8999],
        [2.92664, 1.4879768e-3, -5.68476e-7, 1.0097038e-10, -6.753351e-15, -922.7977],
        1.663e-5,
        273,
        107
    );

    public static readonly Gas Oxygen = new(
        "oxygen",
        31.9988e-3,
        [3.78245636, -2.99673416e-3, 9.84730201e-6, -9.68129509e-9, 3.24372837e-12, -1063.94356],
        [3.28253784, 1.48308754e-3, -7.57966669e-7, 2.09470555e-10, -2.16717794e-14, -1088.45772],
        1.919e-5,
        273,
        139
    );

    public static readonly Gas Hydrogen = new(
        "hydrogen",
        2.01588e-3,
        [2.34433112, 7.98052075e-3, -1.9478151e-5, 2.01572094e-8, -7.37611761e-12, -917.935173],
        [3.3372792, -4.94024731e-5, 4.99456778e-7, -1.79566394e-10, 2.00255376e-14, -950.158922],
        8.411e-6,
        273,
        97
    );

    public static readonly Gas Methane = new(
        "methane",
        16.04246e-3,
        [5.14987613, -1.36709788e-2, 4.91800599e-5, -4.84743026e-8, 1.66693956e-11, -10246.6476],
        [7.4851495e-2, 1.33909467e-2, -5.73285809e-6, 1.22292535e-9, -1.0181523e-13, -9468.34459],
        1.026e-5,
        273,
        198
    );

    public static readonly Gas CarbonDioxide = new(
        "carbon dioxide",
        44.0095e-3,
        [2.35677352, 8.98459677e-3, -7.12356269e-6, 2.45919022e-9, -1.43699548e-13, -48371.9697],
        [3.85746029, 4.41437026e-3, -2.21481404e-6, 5.23490188e-10, -4.72084164e-14, -48759.166],
        1.370e-5,
        273,
        222
    );

    public static readonly Gas Steam = new(
        "water vapour",
        18.01528e-3,
        [4.19864056, -2.0364341e-3, 6.52040211e-6, -5.48797062e-9, 1.77197817e-12, -30293.7267],
        [3.03399249, 2.17691804e-3, -1.64072518e-7, -9.7041987e-11, 1.68200992e-14, -30004.2971],
        1.12e-5,
        350,
        1064
    );

    public static readonly Gas Argon = new(
        "argon",
        39.948e-3,
        [2.5, 0, 0, 0, 0, -745.375],
        [2.5, 0, 0, 0, 0, -745.375],
        2.125e-5,
        273,
        114
    );

    double[] Factors(double T) => T < Change ? Low : High;

    /// <summary>J/(mol·K).</summary>
    public double HeatCapacity(double T)
    {
        var a = Factors(T);
        return Molar * (a[0] + T * (a[1] + T * (a[2] + T * (a[3] + T * a[4]))));
    }

    /// <summary>J/mol, with the enthalpy of formation at 298.15 K.</summary>
    public double Enthalpy(double T)
    {
        var a = Factors(T);
        return Molar * (T * (a[0] + T * (a[1] / 2 + T * (a[2] / 3 + T * (a[3] / 4 + T * a[4] / 5)))) + a[5]);
    }

    /// <summary>Pa·s.</summary>
    public double Viscosity(double T) => Viscosity0 * Math.Pow(T / Temperature0, 1.5) * (Temperature0 + Sutherland) / (T + Sutherland);

    /// <summary>W/(m·K), after Eucken (Poling, Prausnitz and O'Connell, The Properties of Gases and Liquids, 5th ed., eq.
    /// 10-3.2).</summary>
    public double Conductivity(double T) => Viscosity(T) / Mass * (HeatCapacity(T) + 1.25 * Molar);
}
