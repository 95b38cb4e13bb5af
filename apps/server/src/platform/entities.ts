import 'reflect-metadata'
import { Column, Entity, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { UserAccount } from './shared-entities'

@Entity('session')
export class Session {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('char') tokenHash!: string
  @Column('char') csrf!: string
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar') createdAt!: string
  @Column('varchar') expiresAt!: string
}

@Entity('audit_log')
export class AuditLog {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') at!: string
  @Column('int', { nullable: true }) userId!: number | null
  @Column('varchar') kind!: string
  @Column('varchar') text!: string
  @Column('int', { nullable: true }) matterId!: number | null
  @Column('varchar') subject!: string
  @Column('bigint', { nullable: true }) subjectId!: number | null
  @Column('longtext', { nullable: true }) detail!: string | null
}

@Entity('stored_file')
export class StoredFile {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('char') sha256!: string
  @Column('int') size!: number
  @Column('varchar') mediaType!: string
  @Column('varchar') createdAt!: string
}

@Entity('job')
export class Job {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') kind!: string
  @Column('longtext') payload!: string
  @Column('varchar') state!: 'waiting' | 'running' | 'done' | 'failed'
  @Column('varchar') runAfter!: string
  @Column('varchar') createdAt!: string
  @Column('int') userId!: number
  @Column('tinyint') attempts!: number
  @Column('tinyint') progress!: number
  @Column('longtext', { nullable: true }) result!: string | null
  @Column('varchar', { nullable: true }) error!: string | null
}

@Entity('counter')
export class Counter {
  @PrimaryColumn('varchar') name!: string
  @Column('int') value!: number
}

@Entity('idempotency')
export class Idempotency {
  @PrimaryColumn('int') userId!: number
  @PrimaryColumn('varchar') idempotencyKey!: string
  @Column('char') bodyHash!: string
  @Column('longtext', { nullable: true }) response!: string | null
  @Column('varchar') createdAt!: string
}

@Entity('mail_file')
export class MailFile {
  @PrimaryColumn('varchar') messageKey!: string
  @PrimaryColumn('tinyint') ordinal!: number
  @Column('bigint') fileId!: number
  @Column('varchar') name!: string
}

@Entity('sign_in_guard')
export class SignInGuard {
  @PrimaryColumn('varchar') name!: string
  @Column('int') tries!: number
  @Column('varchar') lastAt!: string
  @Column('varchar') freeAt!: string
}

@Entity('sign_in_known')
export class SignInKnown {
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @PrimaryColumn('varchar') address!: string
  @Column('varchar') lastAt!: string
}

/** Tables of the house itself; those of an area come with it. */
export const houseEntities = [Session, AuditLog, StoredFile, Job, Counter, Idempotency, MailFile, SignInGuard, SignInKnown]
