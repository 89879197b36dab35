#!/bin/sh
# Gathers what Gentle Warden looks at, by read-only calls of the provider's official command line (az), into a folder of saved answers.
#   ./survey.sh [FOLDER]            default: answers
#   gentle-warden survey --folder answers -o survey.ndjson
# Interrupted and started again, it goes on where it was. Nothing is changed, no key is fetched, no blob is read.
# SUBSCRIPTION says which subscription; default: the one that az is set to.
set -u
folder=${1:-answers}
arm=${ARM:-https://management.azure.com}
graph=${GRAPH:-https://graph.microsoft.com}
command -v az >/dev/null 2>&1 || { echo "survey.sh: the provider's command line (az) is missing; install it first" >&2; exit 2; }
mkdir -p "$folder" || exit 2

encoded() { # percent-encodes standard input, all but letters, digits and . _ - ~
    od -An -v -tx1 | tr -d '\n' | sed 's/  */ /g; s/^ //' | tr ' ' '\n' | while read -r byte || [ -n "$byte" ]; do
        case $byte in
            3[0-9] | 4[1-9a-f] | 5[0-9a] | 6[1-9a-f] | 7[0-9a] | 2d | 2e | 5f | 7e) printf "\\$(printf '%03o' "0x$byte")" ;;
            *) printf '%%%s' "$(printf '%s' "$byte" | tr 'a-f' 'A-F')" ;;
        esac
    done
}
call() { # call ASPECT SUBJECT URL [OPTION...]: saves what is printed, page by page, or why not
    aspect=$1
    name=$(printf '%s' "$2" | encoded)
    first=$3
    shift 3
    # What an interrupted run has answered stays, for it is put there when its last page has come; what was refused is asked again.
    [ -s "$folder/${aspect}__$name.json" ] && return
    rm -f "$folder"/.page*
    url=$first
    page=1
    while [ -n "$url" ]; do
        file=$folder/.page$(printf '%03d' "$page")
        if ! az rest --method get --url "$url" --output json "$@" >"$file" 2>"$folder/.err"; then
            mv "$folder/.err" "$folder/${aspect}__$name.error"
            rm -f "$folder"/.page*
            return
        fi
        url=$(sed -n 's/^ *"\(@odata\.\)\{0,1\}nextLink": "\([^"]*\)".*/\2/p' "$file" | head -n 1)
        marker=$(sed -n 's/.*<NextMarker>\([^<]*\)<.*/\1/p' "$file" | head -n 1)
        [ -z "$marker" ] || url="$first&marker=$(printf '%s' "$marker" | encoded)"
        page=$((page + 1))
    done
    for file in "$folder"/.page*; do
        number=${file##*page}
        [ "$number" = 001 ] || mv "$file" "$folder/${aspect}__$name.page$number.json"
    done
    mv "$folder/.page001" "$folder/${aspect}__$name.json"
    rm -f "$folder/${aspect}__$name.error" "$folder/.err"
}
saved() { # saved ASPECT SUBJECT PATTERN: prints the identifiers in a saved answer that match, a line each
    name=$(printf '%s' "$2" | encoded)
    cat "$folder/${1}__$name".json "$folder/${1}__$name".page*.json 2>/dev/null | sed -n 's/^ *"id": "\([^"\\]*\)".*/\1/p' | grep -i -E "$3" | sort -u
}
member() { # member ASPECT SUBJECT NAME: prints the values of a member of a saved answer, a line each
    name=$(printf '%s' "$2" | encoded)
    cat "$folder/${1}__$name".json "$folder/${1}__$name".page*.json 2>/dev/null | sed -n 's/^ *"'"$3"'": "\([^"\\]*\)".*/\1/p' | sort -u
}

guid=${SUBSCRIPTION:-$(az account show --query id --output tsv 2>/dev/null)}
[ -n "$guid" ] || { echo "survey.sh: az is not signed in; try: az login" >&2; exit 4; }
before=$(cat "$folder/.account" 2>/dev/null)
[ -z "$before" ] || [ "$before" = "$guid" ] || { echo "survey.sh: $folder holds answers of the subscription $before, and this is $guid; name another folder" >&2; exit 2; }
printf '%s\n' "$guid" >"$folder/.account"
[ -e "$folder/.complete" ] && { echo "survey.sh: $folder holds a whole survey already; name another folder, or remove it" >&2; exit 2; }
sub=/subscriptions/$guid

# Who asks decides whether a list that it gets is the whole.
who=$(az account show --query user.name --output tsv 2>/dev/null)
if [ "$(az account show --query user.type --output tsv 2>/dev/null)" = servicePrincipal ]; then
    az rest --method get --url "$graph/v1.0/servicePrincipals?\$filter=appId%20eq%20'$who'&\$select=id" --query 'value[0].id' --output tsv 2>/dev/null |
        sed -n 's,^\([0-9a-fA-F-]*\)$,servicePrincipals/\1,p' >"$folder/.taken-by"
else
    az rest --method get --url "$graph/v1.0/me?\$select=id" --query id --output tsv 2>/dev/null | sed -n 's,^\([0-9a-fA-F-]*\)$,users/\1,p' >"$folder/.taken-by"
fi
[ -s "$folder/.taken-by" ] || rm -f "$folder/.taken-by"

call subscription "$sub" "$arm$sub?api-version=2022-12-01"
call storage-account-list "$sub" "$arm$sub/providers/Microsoft.Storage/storageAccounts?api-version=2025-08-01"
call cdn-profile-list "$sub" "$arm$sub/providers/Microsoft.Cdn/profiles?api-version=2025-06-01"
call dns-zone-list "$sub" "$arm$sub/providers/Microsoft.Network/dnszones?api-version=2018-05-01"
call role-assignment-list "$sub" "$arm$sub/providers/Microsoft.Authorization/roleAssignments?api-version=2022-04-01"
call role-assignment-list "$sub?atScope()" "$arm$sub/providers/Microsoft.Authorization/roleAssignments?\$filter=atScope()&api-version=2022-04-01"
call role-definition-list "$sub" "$arm$sub/providers/Microsoft.Authorization/roleDefinitions?api-version=2022-04-01"
call deny-assignment-list "$sub" "$arm$sub/providers/Microsoft.Authorization/denyAssignments?api-version=2022-04-01"
call lock-list "$sub" "$arm$sub/providers/Microsoft.Authorization/locks?api-version=2017-04-01"
call delegated-management-list "$sub" "$arm$sub/providers/Microsoft.ManagedServices/registrationAssignments?\$expandRegistrationDefinition=true&api-version=2022-10-01"
call managed-identity-list "$sub" "$arm$sub/providers/Microsoft.ManagedIdentity/userAssignedIdentities?api-version=2024-11-30"
call static-site-list "$sub" "$arm$sub/providers/Microsoft.Web/staticSites?api-version=2025-05-01"

logs() { # logs RESOURCE
    call diagnostic-setting-list "$1" "$arm$1/providers/Microsoft.Insights/diagnosticSettings?api-version=2021-05-01-preview"
}
for account in $(saved storage-account-list "$sub" '/storageAccounts/[^/]+$'); do
    service=$account/blobServices/default
    call blob-service "$service" "$arm$service?api-version=2025-08-01"
    call container-list "$service" "$arm$service/containers?api-version=2025-08-01"
    call management-policy "$account" "$arm$account/managementPolicies/default?api-version=2025-08-01"
    logs "$service"
    blob=$(member storage-account-list "$sub" blob | grep -F "//${account##*/}." | head -n 1)
    # At a simulated provider all accounts are below one address.
    [ -z "${BLOBS:-}" ] || blob=$BLOBS/${account##*/}/
    if [ -n "$blob" ]; then
        call container-blobs "$service/containers/\$web" "${blob}\$web?restype=container&comp=list&maxresults=5000" \
            --resource https://storage.azure.com/ --headers x-ms-version=2023-11-03
        grep -q staticWebsite "$folder/blob-service__$(printf '%s' "$service" | encoded).json" 2>/dev/null ||
            call static-website "$service" "${blob}?restype=service&comp=properties" --resource https://storage.azure.com/ --headers x-ms-version=2023-11-03
    fi
done
for profile in $(saved cdn-profile-list "$sub" '/profiles/[^/]+$'); do
    logs "$profile"
    call cdn-endpoint-list "$profile" "$arm$profile/endpoints?api-version=2025-06-01"
    for endpoint in $(saved cdn-endpoint-list "$profile" '/profiles/[^/]+/endpoints/[^/]+$'); do
        logs "$endpoint"
        call cdn-custom-domain-list "$endpoint" "$arm$endpoint/customDomains?api-version=2025-06-01"
    done
    for part in afdEndpoints:endpoint customDomains:custom-domain originGroups:origin-group ruleSets:rule-set secrets:secret securityPolicies:security-policy; do
        call "front-door-${part#*:}-list" "$profile" "$arm$profile/${part%%:*}?api-version=2025-06-01"
    done
    for endpoint in $(saved front-door-endpoint-list "$profile" '/afdEndpoints/[^/]+$'); do
        call front-door-route-list "$endpoint" "$arm$endpoint/routes?api-version=2025-06-01"
    done
    for group in $(saved front-door-origin-group-list "$profile" '/originGroups/[^/]+$'); do
        call front-door-origin-list "$group" "$arm$group/origins?api-version=2025-06-01"
    done
    for set in $(saved front-door-rule-set-list "$profile" '/ruleSets/[^/]+$'); do
        call front-door-rule-list "$set" "$arm$set/rules?api-version=2025-06-01"
    done
    for policy in $(saved front-door-security-policy-list "$profile" '/frontDoorWebApplicationFirewallPolicies/[^/]+$'); do
        call waf-policy "$policy" "$arm$policy?api-version=2022-05-01"
    done
done
for zone in $(saved dns-zone-list "$sub" '/dnszones/[^/]+$'); do
    call dns-records "$zone" "$arm$zone/recordsets?api-version=2018-05-01"
done
for identity in $(saved managed-identity-list "$sub" '/userAssignedIdentities/[^/]+$'); do
    call federated-credential-list "$identity" "$arm$identity/federatedIdentityCredentials?api-version=2024-11-30"
done
for principal in $(member role-assignment-list "$sub" principalId); do
    of=servicePrincipals/$principal
    call service-principal "$of" "$graph/v1.0/$of?\$select=id,appId,displayName,servicePrincipalType,alternativeNames,accountEnabled,passwordCredentials,keyCredentials"
    call member-of "$of" "$graph/v1.0/$of/transitiveMemberOf?\$select=id"
    for app in $(member service-principal "$of" appId); do
        id=$(az rest --method get --url "$graph/v1.0/applications?\$filter=appId%20eq%20'$app'&\$select=id" --query 'value[0].id' --output tsv 2>/dev/null)
        [ -n "$id" ] || continue
        call application "applications/$id" "$graph/v1.0/applications/$id?\$select=id,appId,displayName,passwordCredentials,keyCredentials"
        call federated-credential-list "applications/$id" "$graph/v1.0/applications/$id/federatedIdentityCredentials"
        call application-owners "applications/$id" "$graph/v1.0/applications/$id/owners?\$select=id"
    done
done
: >"$folder/.complete"
