using AnchorBend.Workbench.Shelf;

namespace AnchorBend.Server.Storage;

/// <summary>Deletes what has lain in the trash for long, at the start and once a day.</summary>
sealed class TrashRound(ShelfWork shelf, ILogger<TrashRound> logger) : BackgroundService
{
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(TimeSpan.FromDays(1));
        do try
        {
            shelf.Empty(DateTime.UtcNow.AddDays(-ShelfWork.TrashDays));
        }
        catch (Exception e)
        {
            // A disk that is full or locked now will not be for ever; nobody waits for this.
            logger.LogWarning(e, "The trash could not be gone through.");
        }
        while (await timer.WaitForNextTickAsync(stoppingToken));
    }
}
