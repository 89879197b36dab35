package warden.core.aws.permission;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.reach.Possibility;
import warden.core.aws.reach.Reach;
import warden.core.survey.Need;

/**
 * A known way of giving oneself more than one was given.
 *
 * @param steps the actions that it takes, all of them, each on a resource of a kind
 * @param says how it is done, as a phrase that follows "can": {@code make itself a new key for any user}
 */
public record EscalationPath(List<Step> steps, String says) {
    public EscalationPath {
        steps = List.copyOf(steps);
    }

    /** What a step has to be allowed on. */
    enum Kind {
        /** A user other than oneself. */
        OTHER_USER,
        /** Oneself, a user. */
        OWN_USER,
        /** Oneself, a role. */
        OWN_ROLE,
        /** A group. */
        GROUP,
        /** A role other than oneself. */
        OTHER_ROLE,
        /** A policy of the account that one holds. */
        OWN_POLICY,
        /** Anything. */
        ANYTHING
    }

    /**
     * One action on one kind of resource.
     *
     * @param passedTo the service that a role is passed to; empty where none is
     */
    record Step(String action, Kind on, String passedTo) {
        Step(String action, Kind on) {
            this(action, on, "");
        }
    }

    private static EscalationPath path(String says, Step... steps) {
        return new EscalationPath(List.of(steps), says);
    }

    private static Step pass(String service) {
        return new Step("iam:PassRole", Kind.OTHER_ROLE, service);
    }

    private static Step any(String action) {
        return new Step(action, Kind.ANYTHING);
    }

    /**
     * The known paths, the plainest first. Source: IAM User Guide, "Policies and permissions in IAM"; "Granting a user permissions to pass a role
     * to an AWS service"; the API references of the services named.
     */
    static final List<EscalationPath> ALL = List.of(
            path("make itself a new key for any user", new Step("iam:CreateAccessKey", Kind.OTHER_USER)),
            path("give any user a console password", new Step("iam:CreateLoginProfile", Kind.OTHER_USER)),
            path("change any user's console password", new Step("iam:UpdateLoginProfile", Kind.OTHER_USER)),
            path("attach any policy to itself", new Step("iam:AttachUserPolicy", Kind.OWN_USER)),
            path("attach any policy to itself", new Step("iam:AttachRolePolicy", Kind.OWN_ROLE)),
            path("write itself a policy", new Step("iam:PutUserPolicy", Kind.OWN_USER)),
            path("write itself a policy", new Step("iam:PutRolePolicy", Kind.OWN_ROLE)),
            path(
                    "attach any policy to a group that it can join",
                    new Step("iam:AttachGroupPolicy", Kind.GROUP),
                    new Step("iam:AddUserToGroup", Kind.GROUP)),
            path(
                    "write a policy for a group that it can join",
                    new Step("iam:PutGroupPolicy", Kind.GROUP),
                    new Step("iam:AddUserToGroup", Kind.GROUP)),
            path("rewrite a policy that it holds", new Step("iam:CreatePolicyVersion", Kind.OWN_POLICY)),
            path(
                    "go back to a wider version of a policy that it holds",
                    new Step("iam:SetDefaultPolicyVersion", Kind.OWN_POLICY)),
            path("join any group", new Step("iam:AddUserToGroup", Kind.GROUP)),
            path("let itself assume any role", new Step("iam:UpdateAssumeRolePolicy", Kind.OTHER_ROLE)),
            path(
                    "attach any policy to a role and assume it",
                    new Step("iam:AttachRolePolicy", Kind.OTHER_ROLE),
                    new Step("sts:AssumeRole", Kind.OTHER_ROLE)),
            path(
                    "write a policy for a role and assume it",
                    new Step("iam:PutRolePolicy", Kind.OTHER_ROLE),
                    new Step("sts:AssumeRole", Kind.OTHER_ROLE)),
            path(
                    "take away its own permissions boundary",
                    new Step("iam:DeleteUserPermissionsBoundary", Kind.OWN_USER)),
            path(
                    "take away its own permissions boundary",
                    new Step("iam:DeleteRolePermissionsBoundary", Kind.OWN_ROLE)),
            path(
                    "run a function of its own with any role",
                    pass("lambda.amazonaws.com"),
                    any("lambda:CreateFunction"),
                    any("lambda:InvokeFunction")),
            path(
                    "run a function of its own with any role",
                    pass("lambda.amazonaws.com"),
                    any("lambda:CreateFunction"),
                    any("lambda:AddPermission")),
            path(
                    "run a function of its own with any role",
                    pass("lambda.amazonaws.com"),
                    any("lambda:CreateFunction"),
                    any("lambda:CreateEventSourceMapping")),
            path(
                    "put its own code into a function and act as that function's role",
                    any("lambda:UpdateFunctionCode"),
                    any("lambda:InvokeFunction")),
            path("start a machine of its own with any role", pass("ec2.amazonaws.com"), any("ec2:RunInstances")),
            path(
                    "let a stack of its own work with any role",
                    pass("cloudformation.amazonaws.com"),
                    any("cloudformation:CreateStack")),
            path(
                    "let a build of its own run with any role",
                    pass("codebuild.amazonaws.com"),
                    any("codebuild:CreateProject"),
                    any("codebuild:StartBuild")),
            path(
                    "let a build of its own run with an existing project's role",
                    any("codebuild:UpdateProject"),
                    any("codebuild:StartBuild")),
            path(
                    "let a task of its own run with any role",
                    pass("ecs-tasks.amazonaws.com"),
                    any("ecs:RegisterTaskDefinition"),
                    any("ecs:RunTask")),
            path(
                    "let a job of its own run with any role",
                    pass("glue.amazonaws.com"),
                    any("glue:CreateJob"),
                    any("glue:StartJobRun")),
            path(
                    "open a notebook that has any role",
                    pass("sagemaker.amazonaws.com"),
                    any("sagemaker:CreateNotebookInstance"),
                    any("sagemaker:CreatePresignedNotebookInstanceUrl")),
            path(
                    "let a delivery pipeline of its own run with any role",
                    pass("codepipeline.amazonaws.com"),
                    any("codepipeline:CreatePipeline")),
            path("run commands on machines and act as their roles", any("ssm:SendCommand")),
            path("open a session on machines and act as their roles", any("ssm:StartSession")));

    /** A path that is open, and the requests that show it. */
    public record Open(EscalationPath path, List<Possibility.Allowed> requests) {
        public Open {
            requests = List.copyOf(requests);
        }
    }

    /**
     * The ways of giving itself more that a user or role has.
     *
     * @param open the paths that are open; of several that say the same, the first
     * @param needs what would settle the paths that could go either way
     */
    public record Ways(List<Open> open, List<Need> needs) {
        public Ways {
            open = List.copyOf(open);
            needs = needs.stream().distinct().toList();
        }
    }

    /** Returns the paths that are open to a user or role, and what keeps from telling of others. */
    public static Ways openTo(EffectivePermissions permissions) {
        Ways direct = direct(permissions, permissions.account().directory().principals());
        List<Open> open = new ArrayList<>(direct.open());
        List<Need> needs = new ArrayList<>(direct.needs());
        new StrongerRoles(permissions.reach()).add(permissions, open, needs);
        return new Ways(open, needs);
    }

    /** As above, without the ways that lead over another role. */
    static Ways direct(EffectivePermissions permissions, List<Principal> others) {
        List<Open> open = new ArrayList<>();
        List<Need> needs = new ArrayList<>();
        for (EscalationPath path : ALL) {
            boolean said = open.stream().anyMatch(other -> other.path().says().equals(path.says()));
            if (!said) {
                path.walk(permissions, others, open, needs);
            }
        }
        return new Ways(open, needs);
    }

    /** A path is as open as the step that is least so. */
    private void walk(EffectivePermissions permissions, List<Principal> others, List<Open> open, List<Need> needs) {
        List<Possibility.Allowed> requests = new ArrayList<>();
        List<Need> unsettled = new ArrayList<>();
        for (Step step : steps) {
            Map<String, ContextValue> context = step.passedTo().isEmpty()
                    ? Map.of()
                    : Map.of("iam:PassedToService", ContextValue.Known.of(step.passedTo()));
            Possibility possibility =
                    permissions.can(step.action(), () -> kind(step.on(), permissions), () -> arns(others), context);
            if (possibility instanceof Possibility.Never) {
                return;
            }
            if (possibility instanceof Possibility.Allowed allowed) {
                requests.add(allowed);
            } else {
                unsettled.addAll(((Possibility.Open) possibility).needs());
            }
        }
        if (unsettled.isEmpty()) {
            open.add(new Open(this, requests));
        }
        needs.addAll(unsettled);
    }

    private static List<String> arns(List<Principal> principals) {
        return principals.stream().map(principal -> principal.arn().toString()).toList();
    }

    private static Language kind(Kind kind, EffectivePermissions permissions) {
        Reach reach = permissions.reach();
        Principal self = permissions.principal();
        String own = self.arn().toString();
        String account = self.arn().account();
        return switch (kind) {
            case OTHER_USER -> arns(reach, account, "user/").minus(Language.of(own));
            case OTHER_ROLE -> arns(reach, account, "role/").minus(Language.of(own));
            case OWN_USER -> self.isRole() ? Language.none() : Language.of(own);
            case OWN_ROLE -> self.isRole() ? Language.of(own) : Language.none();
            case GROUP -> self.isRole() ? Language.none() : arns(reach, account, "group/");
            case OWN_POLICY -> ownPolicies(self);
            case ANYTHING -> Language.all();
        };
    }

    private static Language arns(Reach reach, String account, String begin) {
        return reach.matching(Glob.parse("arn:aws:iam::" + account + ":" + begin + "?*"));
    }

    private static Language ownPolicies(Principal self) {
        return Language.of(self.holdings().policies().stream()
                .filter(policy -> policy.at().aspect().equals("iam-policy"))
                .map(policy -> policy.at().subject())
                .toList());
    }
}
