package warden.gather.azure.pipeline;

import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.gather.pipeline.WorkflowStep;

/** Understands the steps that the second provider publishes for workflows. Source: the README of each. */
final class AzureWorkflowSteps {
    private static final String OWNER = "azure";
    private static final Pattern CLIENT_ID = Pattern.compile("\"clientId\"\\s*:\\s*\"([^\"]+)\"");

    private AzureWorkflowSteps() {}

    /** Adds what a step does; false where another publishes it. */
    static boolean read(WorkflowStep step) {
        if (!step.owner().equals(OWNER)) {
            return false;
        }
        String name = step.name().substring(OWNER.length() + 1).toLowerCase(Locale.ROOT);
        if (name.equals("login")) {
            signIn(step);
        }
        step.addReusable(step.here().signedIn(AzureAuthentication.CLI), AzureAuthentication.PROVIDER);
        switch (name) {
            case "cli" -> step.addScript("inlineScript");
            case "powershell" -> step.addPowerShell("inlineScript");
            // The second works with a token of a managed front, and with no role.
            case "login", "static-web-apps-deploy" -> step.add(new Operation.Nothing());
            default -> step.addWhatIsKnown();
        }
        return true;
    }

    /** Source: README of the step, inputs {@code creds}, {@code client-id}, {@code auth-type}. */
    private static void signIn(WorkflowStep step) {
        Optional<PipelineValue> creds = Optional.ofNullable(step.with().get("creds"));
        Optional<PipelineValue> client = Optional.ofNullable(step.with().get("client-id"));
        boolean byPassword = client.isEmpty() && creds.isPresent();
        Kind kind = step.input("auth-type").text().equalsIgnoreCase("IDENTITY")
                ? Kind.MANAGED_IDENTITY
                : byPassword ? Kind.PRINCIPAL_BY_PASSWORD : Kind.PRINCIPAL_BY_TOKEN;
        CredentialUse use = AzureAuthentication.principal(
                kind, client.or(() -> creds.map(AzureWorkflowSteps::clientOf)), step.line());
        step.job().signIn(AzureAuthentication.CLI, use);
        step.job().signIn(AzureAuthentication.POWERSHELL, use);
    }

    /** The document names the client; one that a secret holds is named by the secret. */
    private static PipelineValue clientOf(PipelineValue creds) {
        Matcher id = CLIENT_ID.matcher(creds.text());
        return id.find() && id.group(1).indexOf('$') < 0
                ? PipelineValue.of(id.group(1))
                : new PipelineValue(creds.text(), creds.open());
    }
}
