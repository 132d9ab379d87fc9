using System.Globalization;
using System.Net;
using AnchorBend.Server.Storage;
using Microsoft.Data.Sqlite;

namespace AnchorBend.Server.Security;

/// <summary>The server cannot start; the message says why and what to do, for the console.</summary>
public sealed class StartupException(string message) : Exception(message);

/// <summary>How others reach the server.</summary>
/// <param name="Hosts">Names that it answers to beside those of this machine.</param>
/// <param name="RoomPerAccount">What one account may keep of runs, shapes and units, in bytes.</param>
/// <param name="Certificate">A PEM file; null where no address needs one.</param>
sealed record Serving(
    string[] Addresses,
    bool NeedsSignIn,
    bool IsBehindProxy,
    string[] Hosts,
    string? Certificate,
    string? CertificateKey,
    long RoomPerAccount
);

/// <summary>What is checked before the server listens.</summary>
static class Startup
{
    /// <summary>The addresses to listen on, and whether people have to sign in there.</summary>
    /// <exception cref="StartupException">A port is no port, or others would be served in a way that gives their passwords
    /// away.</exception>
    public static Serving Serving(IConfiguration configuration)
    {
        if (configuration.GetSection("Kestrel:Endpoints").GetChildren().Any())
            throw new StartupException("Endpoints are configured under Kestrel:Endpoints. Say --urls instead.");
        var isBehindProxy = configuration.GetValue("behind-proxy", false);
        var hosts = (configuration["host"] ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        if (configuration["urls"] is not { Length: > 0 } urls)
        {
            var text = configuration["port"] ?? "5180";
            if (!int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var port) || port > 65535)
                throw new StartupException($"'{text}' is no port: a number from 0 to 65535 is needed.");
            urls = $"http://127.0.0.1:{port}";
        }

        var addresses = urls.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        var far = addresses.Where(a => !IsThisMachine(a)).ToList();
        var needsSignIn = far.Count > 0 || isBehindProxy || configuration.GetValue("sign-in", false);
        if ((far.Count > 0 || isBehindProxy) && hosts.Length == 0)
            throw new StartupException(
                (far.Count > 0 ? $"'{far[0]}' is reached by others" : "Others come through a proxy")
                    + ": say by which name, as --host bench.example."
            );
        if (!isBehindProxy && far.FirstOrDefault(a => !a.StartsWith("https:", StringComparison.OrdinalIgnoreCase)) is { } open)
            throw new StartupException(
                $"'{open}' would send passwords in the open. Say https with --certificate and --certificate-key, or --behind-proxy where a "
                    + "proxy on this machine does it."
            );
        var (certificate, key) = (configuration["certificate"], configuration["certificate-key"]);
        if (
            addresses.FirstOrDefault(a => a.StartsWith("https:", StringComparison.OrdinalIgnoreCase)) is { } encrypted
            && certificate is null
        )
            throw new StartupException($"'{encrypted}' needs a certificate: say --certificate and --certificate-key, PEM files both.");
        if (new[] { certificate, key }.OfType<string>().FirstOrDefault(f => !File.Exists(f)) is { } missing)
            throw new StartupException($"There is no file {missing}.");
        var room = configuration["room-per-account"] ?? "2048";
        if (!long.TryParse(room, NumberStyles.None, CultureInfo.InvariantCulture, out var mebibytes) || mebibytes > 1 << 30)
            throw new StartupException($"'{room}' is no room for an account: whole MiB are needed, as --room-per-account 2048.");
        return new Serving(addresses, needsSignIn, isBehindProxy, hosts, certificate, key, mebibytes * KeptRoom.Mebibyte);
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
            System.Security.Cryptography.CryptographicException e => $"The certificate cannot be used: {e.Message}",
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
