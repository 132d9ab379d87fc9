namespace AnchorBend.Media;

/// <summary>A fluid at a pressure and a specific enthalpy, with slopes along both.</summary>
/// <param name="Temperature">K.</param>
/// <param name="TemperatureAlongPressure">K/Pa.</param>
/// <param name="TemperatureAlongEnthalpy">K·kg/J.</param>
/// <param name="Volume">m3/kg.</param>
/// <param name="VolumeAlongPressure">m3/(kg·Pa).</param>
/// <param name="VolumeAlongEnthalpy">m3/J.</param>
/// <param name="Vapour">Share of vapour, 0 to 1.</param>
public readonly record struct FluidState(
    double Temperature,
    double TemperatureAlongPressure,
    double TemperatureAlongEnthalpy,
    double Volume,
    double VolumeAlongPressure,
    double VolumeAlongEnthalpy,
    double Vapour = 0
)
{
    /// <summary>kg/m3.</summary>
    public double Density => 1 / Volume;
}

/// <summary>Where a fluid is not described any more.</summary>
public enum Beyond
{
    Nothing,
    TooCold,
    TooHot,
    TooLow,
    TooHigh,
}
