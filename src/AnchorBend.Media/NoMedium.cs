namespace AnchorBend.Media;

/// <summary>What a number of a table stands for that nobody brought: nothing of it is a number, and a run that asks ends by that.</summary>
sealed class NoMedium : Medium
{
    public static readonly NoMedium Instance = new();

    public override FluidState At(double p, double h) => new(double.NaN, double.NaN, double.NaN, double.NaN, double.NaN, double.NaN);

    public override double Enthalpy(double p, double T) => double.NaN;

    public override double Viscosity(double p, double h) => double.NaN;

    public override double Conductivity(double p, double h) => double.NaN;

    public override Beyond Validity(double p, double h) => Beyond.Nothing;

    public override double Pressure(double density, double energy) => double.NaN;

    protected override double Guess(double density, double energy) => double.NaN;
}
