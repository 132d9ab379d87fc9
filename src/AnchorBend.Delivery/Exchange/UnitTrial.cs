using AnchorBend.Language.Terms;
using AnchorBend.Simulation;

namespace AnchorBend.Delivery.Exchange;

/// <summary>
/// Whether an exchange unit does what its description says: it is made, begun and goes one step with what it starts with.
/// </summary>
public static class UnitTrial
{
    /// <returns>Its outputs after the step, in their order.</returns>
    /// <exception cref="DeliveryException">It does not; says why.</exception>
    public static IReadOnlyList<double> Of(UnitArchive archive)
    {
        var description = archive.Description;
        try
        {
            using var units = new OutsideUnits(new Dictionary<long, IOutsideUnit>());
            var unit = units.Find(OutsideUnits.KindOf(archive.Hash) * OutsideUnits.PerOffer)!;
            unit.Step(0);
            unit.Step(description.Step ?? 0.01);
            return [.. description.Of(UnitRole.Output).Select((_, i) => unit.Get(i))];
        }
        catch (SimulationException e)
        {
            throw new DeliveryException("trial", e.Failure.Message, "Ask its makers for one that runs on this machine.");
        }
    }
}
