using AnchorBend.Language.Terms;
using AnchorBend.Simulation;

namespace AnchorBend.Delivery.Exchange;

/// <summary>
/// Whether an exchange unit does what its description says: it is made, begun and goes one step with what it starts with; one that is
/// integrated here is looked at once.
/// </summary>
public static class UnitTrial
{
    /// <returns>Its outputs then, in their order.</returns>
    /// <exception cref="DeliveryException">It does not; says why.</exception>
    public static IReadOnlyList<double> Of(UnitArchive archive)
    {
        var description = archive.Description;
        try
        {
            using var units = new OutsideUnits(new Dictionary<long, IOutsideUnit>());
            var unit = units.Find(OutsideUnits.KindOf(archive.Hash) * OutsideUnits.PerOffer)!;
            var outputs = description.Of(UnitRole.Output).ToList();
            if (unit is IOutsideFlow flow)
            {
                var states = description.Flow!.States.Count;
                for (var i = 0; i < states; i++)
                    flow.Point[flow.Point.Length - states + i] = flow.Begin(0, i);
                return [.. outputs.Select((_, i) => flow.Value(0, states + i))];
            }

            var steps = (IOutsideSteps)unit;
            steps.Step(0);
            steps.Step(description.Step ?? 0.01);
            return [.. outputs.Select((_, i) => steps.Get(i))];
        }
        catch (SimulationException e)
        {
            throw new DeliveryException("trial", e.Failure.Message, "Ask its makers for one that runs on this machine.");
        }
    }
}
