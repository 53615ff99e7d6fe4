using System.Collections.Frozen;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure;

namespace DuneCrate.Web.Access;

/// <summary>What an endpoint asks of whoever calls it; part of its metadata.</summary>
/// <param name="read">Of every read, and of an address that is no page.</param>
/// <param name="posts">Of what is posted to a page, by the name of the handler; "" for the plain one.</param>
internal sealed class AccessRequirement(Permission read, FrozenDictionary<string, Permission> posts) : IAuthorizationRequirement
{
    /// <summary>What is asked for, given the handler of a page that will run; null when nobody said.</summary>
    /// <param name="page">The handler, or null for an address that is no page and for a page that renders without one.</param>
    /// <param name="isPost">Whether something is posted to a page.</param>
    public Permission? Of(HandlerMethodDescriptor? page, bool isPost) =>
        !isPost ? read
        : page is not null && posts.TryGetValue(page.Name ?? "", out Permission need) ? need
        : null;
}
