using System.Collections;
using DuneCrate.Web.Operations;
using Microsoft.AspNetCore.Mvc.Abstractions;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.ModelBinding;
using Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure;
using Microsoft.Extensions.Primitives;

namespace DuneCrate.Web.Forms;

/// <summary>
/// Holds what is posted against what the handler takes: a number that is none, a field that is sent twice where one is taken, or one that
/// is missing where there is nothing to fall back on is refused in words, before anything is done. Sources: OWASP ASVS 5.0, V2.2.1; OWASP
/// Web Security Testing Guide, WSTG-INPV-04 (parameter pollution).
/// </summary>
internal sealed class CheckedFields : IAsyncPageFilter
{
    public Task OnPageHandlerSelectionAsync(PageHandlerSelectedContext context) => Task.CompletedTask;

    public Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        if (
            context.HandlerMethod is not { } handler
            || !HttpMethods.IsPost(context.HttpContext.Request.Method)
            || Problem(context, handler) is not { } problem
        )
        {
            return next();
        }

        context.Result = ProblemPage.Say(context.HttpContext, StatusCodes.Status400BadRequest, problem);
        return Task.CompletedTask;
    }

    private static string? Problem(PageHandlerExecutingContext context, HandlerMethodDescriptor handler)
    {
        // What was not sent at all is no wrong value; whether it may be left out is asked below, and by the handler.
        if (
            context.ModelState.FirstOrDefault(e =>
                e.Value is { ValidationState: ModelValidationState.Invalid, AttemptedValue.Length: > 0 }
            ) is
            { Key: { } wrong, Value: not null }
        )
        {
            return $"The field {wrong} does not hold what it should. Nothing was changed.";
        }

        HttpRequest request = context.HttpContext.Request;
        IFormCollection? form = request.HasFormContentType ? request.Form : null;
        foreach (
            ParameterDescriptor taken in handler.Parameters.Cast<ParameterDescriptor>().Concat(context.ActionDescriptor.BoundProperties)
        )
        {
            Type type = taken.ParameterType;
            if (
                type == typeof(CancellationToken)
                || type == typeof(IFormFile)
                || (type != typeof(string) && type.IsAssignableTo(typeof(IEnumerable)))
            )
            {
                continue;
            }

            string name = taken.BindingInfo?.BinderModelName ?? taken.Name;
            StringValues inForm = form?[name] ?? default,
                inQuery = request.Query[name];
            if (inForm.Count > 1 || inQuery.Count > 1)
            {
                return $"The field {name} was sent more than once. Nothing was changed.";
            }

            bool isMissing =
                    inForm.Count + inQuery.Count == 0 && taken is HandlerParameterDescriptor { ParameterInfo.HasDefaultValue: false },
                mustBeThere =
                    isMissing
                    && (
                        (type.IsValueType && type != typeof(bool) && Nullable.GetUnderlyingType(type) is null)
                        || context.ModelState.GetFieldValidationState(name) == ModelValidationState.Invalid
                    );
            if (mustBeThere)
            {
                return $"The field {name} is missing. Nothing was changed.";
            }
        }

        return null;
    }
}
