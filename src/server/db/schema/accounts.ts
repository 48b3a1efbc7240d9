/** Accounts and sessions, in the shape the accounts library asks for; a user's id is the id of the person. */
import { boolean, index, integer, pgTable, text, timestamp } from "drizzle-orm/pg-core";

/** Who plays in the demo, with the password made for it. Empty on every site that is not a demo. */
export const demoCast = pgTable("demo_cast", {
  personId: text("person_id").primaryKey(),
  role: text("role").notNull(),
  email: text("email").notNull(),
  password: text("password").notNull(),
  position: integer("position").notNull(),
});

export const user = pgTable(
  "user",
  {
    id: text("id").primaryKey(),
    name: text("name").notNull(),
    email: text("email").notNull().unique(),
    emailVerified: boolean("email_verified").notNull().default(false),
    image: text("image"),
    /**
     * The address they say is theirs, while nobody proved it: they sign in with it, and nothing else goes by it. `email` is then an
     * address that nobody has.
     */
    claimed: text("claimed"),
    /** When they last signed in. */
    signedInAt: timestamp("signed_in_at", { withTimezone: true }),
    createdAt: timestamp("created_at").notNull().defaultNow(),
    updatedAt: timestamp("updated_at").notNull().defaultNow(),
  },
  (t) => [index("user_claimed").on(t.claimed)],
);

export const session = pgTable("session", {
  id: text("id").primaryKey(),
  expiresAt: timestamp("expires_at").notNull(),
  token: text("token").notNull().unique(),
  createdAt: timestamp("created_at").notNull().defaultNow(),
  updatedAt: timestamp("updated_at").notNull().defaultNow(),
  ipAddress: text("ip_address"),
  userAgent: text("user_agent"),
  userId: text("user_id")
    .notNull()
    .references(() => user.id),
});

export const account = pgTable("account", {
  id: text("id").primaryKey(),
  accountId: text("account_id").notNull(),
  providerId: text("provider_id").notNull(),
  userId: text("user_id")
    .notNull()
    .references(() => user.id),
  accessToken: text("access_token"),
  refreshToken: text("refresh_token"),
  idToken: text("id_token"),
  accessTokenExpiresAt: timestamp("access_token_expires_at"),
  refreshTokenExpiresAt: timestamp("refresh_token_expires_at"),
  scope: text("scope"),
  password: text("password"),
  createdAt: timestamp("created_at").notNull().defaultNow(),
  updatedAt: timestamp("updated_at").notNull().defaultNow(),
});

export const verification = pgTable("verification", {
  id: text("id").primaryKey(),
  identifier: text("identifier").notNull(),
  value: text("value").notNull(),
  expiresAt: timestamp("expires_at").notNull(),
  createdAt: timestamp("created_at").notNull().defaultNow(),
  updatedAt: timestamp("updated_at").notNull().defaultNow(),
});

/** Attempts at signing in, in the shape the limiter asks for (`accounts/attempts.ts`). */
export const attempts = pgTable("attempts", {
  key: text("key").primaryKey(),
  points: integer("points").notNull(),
  expire: timestamp("expire", { withTimezone: true }),
});
