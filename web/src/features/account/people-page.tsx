import { useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";

import { api, given } from "../../api/client";
import { useMe, useMembers } from "../../api/queries";
import type { components } from "../../api/schema";
import { Button } from "../../components/button";
import { useNotice } from "../../components/notice";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import { day } from "../../domain/words";
import { t } from "../../words";

type Members = components["schemas"]["MembersOut"];
type Member = Members["members"][number];
type Role = Member["role"];

const ROLES: Role[] = ["owner", "trainer", "reviewer", "reader"];

function nameOf(role: Role): string {
  return t(`account:people.role_${role}`);
}

/** Who works here, who may do what, and how somebody new comes in. */
export function PeoplePage() {
  const me = useMe();
  const members = useMembers();
  const fault = members.error ?? me.error;
  return (
    <Shell title={t("account:people.people")}>
      <main className="mx-auto w-full max-w-[760px] px-[18px] pt-7 pb-16">
        <h1 className="text-[29px] leading-tight">{t("account:people.people")}</h1>
        {fault ? (
          <Fault error={fault} />
        ) : members.data && me.data ? (
          <Everybody members={members.data} isOwner={me.data.role === "owner"} />
        ) : (
          <Wait>{t("account:people.looking_who_is_here")}</Wait>
        )}
      </main>
    </Shell>
  );
}

/** Runs a change, asks again who is here, and says what went wrong. */
function useChange() {
  const client = useQueryClient();
  const tell = useNotice();
  return async (change: () => Promise<unknown>) => {
    try {
      await change();
    } catch (error) {
      tell(error instanceof Error ? error.message : String(error));
    }
    void client.invalidateQueries({ queryKey: ["members"] });
    void client.invalidateQueries({ queryKey: ["me"] });
  };
}

function Everybody({ members, isOwner }: { members: Members; isOwner: boolean }) {
  return (
    <>
      <ul className="mt-5 border-t border-ink">
        {members.members.map((member) => (
          <MemberRow key={member.id} member={member} isOwner={isOwner} />
        ))}
      </ul>
      <dl className="mt-4 grid grid-cols-[7rem_1fr] gap-x-3 gap-y-1 text-[13px] text-soft">
        {ROLES.map((role) => (
          <div key={role} className="contents">
            <dt>{nameOf(role)}</dt>
            <dd>{t(`account:people.may_${role}`)}</dd>
          </div>
        ))}
      </dl>
      {isOwner ? (
        <>
          <Inviting invitations={members.invitations} />
          <Share share={members.second_look_share} />
        </>
      ) : (
        <p className="mt-6 text-soft">{t("account:people.owners_change_this")}</p>
      )}
    </>
  );
}

function MemberRow({ member, isOwner }: { member: Member; isOwner: boolean }) {
  const change = useChange();
  const [isSure, setIsSure] = useState(false);
  const path = { member_id: member.id };
  return (
    <li className="flex flex-wrap items-center gap-3 border-b border-hair py-2.5">
      <span className="flex-1">
        {member.username}
        {member.is_you && <span className="text-soft"> · {t("account:people.you")}</span>}
      </span>
      {isOwner ? (
        <RoleSelect
          label={t("account:people.role_of", { name: member.username })}
          value={member.role}
          onChange={(role) =>
            void change(async () =>
              given(
                await api.PUT("/api/members/{member_id}", { params: { path }, body: { role } }),
              ),
            )
          }
        />
      ) : (
        <span>{nameOf(member.role)}</span>
      )}
      {isOwner && !member.is_you && (
        <Button
          look="quiet"
          onBlur={() => setIsSure(false)}
          onClick={() => {
            if (!isSure) return setIsSure(true);
            void change(async () =>
              given(await api.DELETE("/api/members/{member_id}", { params: { path } })),
            );
          }}
        >
          {isSure
            ? t("account:people.take_place_away_really", { name: member.username })
            : t("account:people.take_place_away")}
        </Button>
      )}
    </li>
  );
}

interface RoleSelectProps {
  label: string;
  value: Role;
  onChange: (role: Role) => void;
}

function RoleSelect({ label, value, onChange }: RoleSelectProps) {
  return (
    <select
      aria-label={label}
      value={value}
      onChange={(event) => {
        const role = ROLES.find((one) => one === event.target.value);
        if (role) onChange(role);
      }}
      className="h-8 rounded border border-line bg-raised px-2"
    >
      {ROLES.map((role) => (
        <option key={role} value={role}>
          {nameOf(role)}
        </option>
      ))}
    </select>
  );
}

function Part({ id, title, children }: { id: string; title: string; children: ReactNode }) {
  return (
    <section aria-labelledby={id} className="mt-9 border-t border-ink pt-3">
      <h2 id={id} className="text-[16px] font-semibold">
        {title}
      </h2>
      {children}
    </section>
  );
}

/** A place for somebody who has no account yet, as an address to hand over. */
function Inviting({ invitations }: { invitations: Members["invitations"] }) {
  const change = useChange();
  const tell = useNotice();
  const [role, setRole] = useState<Role>("reviewer");
  const [made, setMade] = useState<{ url: string; role: Role }>();
  const invite = () =>
    change(async () => {
      const answer = given(await api.POST("/api/members/invitations", { body: { role } }));
      setMade({ url: `${location.origin}${answer.path}`, role });
    });
  const copy = async (url: string) => {
    try {
      await navigator.clipboard.writeText(url);
      tell(t("account:people.copied"));
    } catch {
      tell(t("account:people.copy_it_by_hand"));
    }
  };
  return (
    <Part id="invite" title={t("account:people.somebody_new")}>
      <p className="text-soft">{t("account:people.how_inviting_goes")}</p>
      <p className="mt-3 flex flex-wrap items-center gap-3">
        <RoleSelect label={t("account:people.as")} value={role} onChange={setRole} />
        <Button look="main" onClick={() => void invite()}>
          {t("account:people.make_an_invitation")}
        </Button>
      </p>
      {made && (
        <div className="mt-3 flex flex-wrap items-center gap-3">
          <input
            readOnly
            aria-label={t("account:people.address_of_invitation")}
            value={made.url}
            onFocus={(event) => event.target.select()}
            className="num min-w-0 flex-1 rounded border border-line bg-raised px-2 py-1 text-[13px]"
          />
          <Button onClick={() => void copy(made.url)}>{t("account:people.copy")}</Button>
          <p className="w-full text-[13px] text-soft">{t("account:people.shown_only_now")}</p>
        </div>
      )}
      <ul className="mt-3">
        {invitations.map((one) => (
          <li key={one.id} className="flex items-center gap-3 border-b border-hair py-2">
            <span className="flex-1">
              {t("account:people.waits_until", {
                role: nameOf(one.role),
                day: day(one.expires_at.slice(0, 10)),
              })}
            </span>
            <Button
              look="quiet"
              onClick={() =>
                void change(async () =>
                  given(
                    await api.DELETE("/api/members/invitations/{invitation_id}", {
                      params: { path: { invitation_id: one.id } },
                    }),
                  ),
                )
              }
            >
              {t("account:people.take_it_back")}
            </Button>
          </li>
        ))}
      </ul>
    </Part>
  );
}

/** How many of the coded sessions are proposed for a second look. */
function Share({ share }: { share: number }) {
  const change = useChange();
  return (
    <Part id="share" title={t("account:people.second_looks")}>
      <label className="mt-2 flex items-center gap-3">
        {t("account:people.propose_so_many")}
        <select
          value={String(share)}
          onChange={(event) =>
            void change(async () =>
              given(
                await api.PUT("/api/members/second-look-share", {
                  body: { share: Number(event.target.value) },
                }),
              ),
            )
          }
          className="h-8 rounded border border-line bg-raised px-2"
        >
          {[...new Set([0, 0.05, 0.1, 0.2, 0.3, 0.5, 1, share])]
            .sort((a, b) => a - b)
            .map((one) => (
              <option key={one} value={String(one)}>
                {one === 0 ? t("account:people.none") : `${Math.round(one * 100)} %`}
              </option>
            ))}
        </select>
      </label>
      <p className="mt-1 text-[13px] text-soft">{t("account:people.a_fifth_is_common")}</p>
    </Part>
  );
}
