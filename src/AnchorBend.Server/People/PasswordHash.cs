using AnchorBend.Workbench.People;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.Options;

namespace AnchorBend.Server.People;

/// <summary>The platform's hash: PBKDF2 with HMAC-SHA512 and a salt for each password.</summary>
sealed class PasswordHash : IPasswordHash
{
    /// <summary>As OWASP recommends for this function (Password Storage Cheat Sheet, 2023).</summary>
    const int Iterations = 210_000;

    readonly PasswordHasher<PasswordHash> hasher = new(Options.Create(new PasswordHasherOptions { IterationCount = Iterations }));

    public string Of(string password) => hasher.HashPassword(this, password);

    public bool Fits(string hash, string password) =>
        hasher.VerifyHashedPassword(this, hash, password) != PasswordVerificationResult.Failed;
}
