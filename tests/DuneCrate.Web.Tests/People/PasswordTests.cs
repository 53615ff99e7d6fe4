using DuneCrate.Web.Access;

namespace DuneCrate.Web.Tests.People;

/// <summary>
/// Which passwords are taken. Source: NIST SP 800-63B-4, section 3.1.1.2 (length, no rules of composition, lists of common ones, words of
/// the context); OWASP ASVS 5.0, V6.2.1, V6.2.4, V6.2.5, V6.2.8, V6.2.9, V6.2.11.
/// </summary>
public sealed class PasswordTests
{
    [Theory]
    [InlineData("limpet ferry under glass")]
    [InlineData("alllowercaseandnothingelseatsea")]
    [InlineData("mein Boot hat 3 grüne Ruder")]
    [InlineData("海の底にある郵便局の鍵はどこですか")]
    [InlineData("tR8#vq2!Lm5$zx9")]
    [InlineData("gannet-skiff-quay-marsh")]
    public void Long_ones_of_any_characters_are_taken(string password) =>
        Assert.Null(PasswordRules.Problem(password, "Mara Quill", "mara"));

    [Theory]
    [InlineData(null)]
    [InlineData("")]
    [InlineData("short but fine")]
    [InlineData("aaaaaaaaaaaaaaaaaaaa")]
    [InlineData("abababababababababab")]
    [InlineData("12345678901234567890")]
    [InlineData("abcdefghijklmnopqrst")]
    [InlineData("qwertyuiopasdfghjkl")]
    [InlineData("lkjhgfdsapoiuytrewq")]
    [InlineData("password12345678")]
    [InlineData("P@ssw0rd!P@ssw0rd!")]
    [InlineData("iloveyouiloveyou")]
    [InlineData("Administrator2026")]
    [InlineData("correcthorsebatterystaple")]
    [InlineData("maraquill20261127")]
    [InlineData("DuneCrateDuneCrate")]
    [InlineData("sunflower202611271")]
    [InlineData("Strawberry.Strawberry")]
    [InlineData("1q2w3e4r5t1q2w3e4r5t")]
    [InlineData("5tr4wb3rry5tr4wb3rry")]
    public void Short_common_and_own_ones_are_refused_in_words(string? password) =>
        Assert.EndsWith(".", PasswordRules.Problem(password, "Mara Quill", "mara"));

    [Fact]
    public void At_least_64_characters_are_allowed_and_very_long_ones_are_not_hashed()
    {
        string words = string.Join(' ', Enumerable.Range(0, 40).Select(i => $"gannet{i * 7919 % 977}"));
        Assert.Null(PasswordRules.Problem(words[..64]));
        Assert.Null(PasswordRules.Problem(words[..PasswordRules.Most]));
        Assert.NotNull(PasswordRules.Problem(words[..PasswordRules.Most] + "!"));
    }

    [Fact]
    public void The_first_code_is_good_in_any_letter_case_and_is_not_burnt_by_strangers()
    {
        var code = new FirstCode();
        string first = code.Code;
        Assert.Matches("^[A-Z2-9]{4}-[A-Z2-9]{4}-[A-Z2-9]{4}$", first);
        Assert.True(code.Is(first.ToLowerInvariant().Replace("-", " ", StringComparison.Ordinal)));
        Assert.All(Enumerable.Range(0, 1000), _ => Assert.False(code.Is("AAAA-AAAA-AAAA")));
        Assert.False(code.Is(null));
        Assert.True(code.Is(first));
    }
}
