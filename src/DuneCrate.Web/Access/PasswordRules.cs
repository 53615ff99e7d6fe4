using DuneCrate.Store.Rows;
using Microsoft.AspNetCore.Identity;

namespace DuneCrate.Web.Access;

/// <summary>
/// What a password must be: long, and none that is guessed first. No rules about what it is made of. Source: NIST SP 800-63B-4, section
/// 3.1.1.2 (15 characters where it is the only factor, at least 64 allowed, lists of common ones and words of the context refused);
/// OWASP Application Security Verification Standard 5.0, V6.2.
/// </summary>
public sealed class PasswordRules : IPasswordValidator<PersonRow>
{
    /// <summary>Fewest characters.</summary>
    public const int Least = 15;

    /// <summary>Most characters: hashing longer ones would cost time.</summary>
    public const int Most = 256;

    /// <summary>The code of its own sentences among those of the framework.</summary>
    internal const string ErrorCode = "DuneCratePassword";

    private const int FewestDifferent = 5,
        ShortWord = 4;

    /// <inheritdoc/>
    public Task<IdentityResult> ValidateAsync(UserManager<PersonRow> manager, PersonRow user, string? password) =>
        Task.FromResult(
            Problem(password, user.Name, user.UserName) is { } problem
                ? IdentityResult.Failed(new IdentityError { Code = ErrorCode, Description = problem })
                : IdentityResult.Success
        );

    /// <summary>What is wrong with a password, or null.</summary>
    /// <param name="password">The password.</param>
    /// <param name="own">Words of the person that it must not be made of.</param>
    public static string? Problem(string? password, params string?[] own)
    {
        if (password is null || password.Length < Least)
        {
            return $"A password has at least {Least} characters; a few words that only you would put together make a good one.";
        }

        if (password.Length > Most)
        {
            return $"A password has at most {Most} characters.";
        }

        if (password.Distinct().Count() < FewestDifferent || CommonPasswords.IsRun(password))
        {
            return "That is one of the first that anybody would try: characters repeat or follow each other.";
        }

        string plain = CommonPasswords.Plain(password);
        IEnumerable<string> words = own.OfType<string>()
            .SelectMany(o => o.Split([' ', '@', '.', '-'], StringSplitOptions.RemoveEmptyEntries))
            .Append("dunecrate")
            .Select(CommonPasswords.Plain)
            .Where(w => w.Length >= ShortWord);
        return CommonPasswords.IsMadeOf(plain, words)
            ? "That is made of a common password, a name or the product’s name alone; put other words to it."
            : null;
    }
}
