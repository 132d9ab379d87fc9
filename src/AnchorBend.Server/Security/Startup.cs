using System.Globalization;
using System.Net;
using Microsoft.Data.Sqlite;

namespace AnchorBend.Server.Security;

/// <summary>The server cannot start; the message says why and what to do, for the console.</summary>
public sealed class StartupException(string message) : Exception(message);

/// <summary>What is checked before the server listens.</summary>
static class Startup
{
    /// <summary>The addresses to listen on.</summary>
    /// <exception cref="StartupException">A port is no port, or an address is one of the network.</exception>
    public static string[] Addresses(IConfiguration configuration)
    {
        if (configuration.GetSection("Kestrel:Endpoints").GetChildren().Any())
            throw new StartupException(
                "Endpoints are configured under Kestrel:Endpoints. Say --urls instead, with addresses of this machine."
            );
        if (configuration["urls"] is { Length: > 0 } urls)
        {
            var addresses = urls.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
            if (addresses.FirstOrDefault(a => !IsThisMachine(a)) is { } far)
                throw new StartupException(
                    $"'{far}' is not an address of this machine alone. Until there is sign-in, only 127.0.0.1, [::1] and "
                        + $"localhost are served."
                );
            return addresses;
        }

        var text = configuration["port"] ?? "5180";
        if (!int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var port) || port > 65535)
            throw new StartupException($"'{text}' is no port: a number from 0 to 65535 is needed.");
        return [$"http://127.0.0.1:{port}"];
    }

    static bool IsThisMachine(string address) =>
        Uri.TryCreate(address, UriKind.Absolute, out var uri)
        && (
            uri.Host.Equals("localhost", StringComparison.OrdinalIgnoreCase)
            || IPAddress.TryParse(uri.Host.Trim('[', ']'), out var ip) && IPAddress.IsLoopback(ip)
        );

    /// <summary>What an exception at the start means to the person who started the server; null for an error of the program.</summary>
    public static string? Explain(Exception exception, string folder) =>
        exception switch
        {
            StartupException e => e.Message,
            SqliteException e => $"The models in {folder} cannot be opened: {StorageProblem(e)}",
            UnauthorizedAccessException => $"The folder {folder} cannot be written to. Choose another one with --data.",
            IOException e when e.InnerException is Microsoft.AspNetCore.Connections.AddressInUseException =>
                "The port is in use, perhaps by another Anchor Bend. Stop that one, or choose a port with --port.",
            IOException e => $"The server cannot start: {e.Message}",
            _ => null,
        };

    /// <summary>What a failure of the database means.</summary>
    public static string StorageProblem(SqliteException e) =>
        e.SqliteErrorCode switch
        {
            5 or 6 => "another program holds the database. Close it and try again.",
            8 => "the database can only be read. Check the rights of its file and folder.",
            10 => "reading or writing the disk failed.",
            11 or 26 => "the database is damaged. Put back a copy of anchor-bend.db.",
            13 => "the disk is full. Make room and try again.",
            14 => "the database file cannot be opened. Check the rights of its folder.",
            _ => e.Message,
        };
}
