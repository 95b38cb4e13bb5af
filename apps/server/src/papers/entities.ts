import type { Day } from '@heron/core/calendar'
import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn, PrimaryGeneratedColumn, type Relation } from 'typeorm'
import { Matter, PracticeArea, UserAccount } from '../platform/shared-entities'
import { StoredFile } from '../platform/entities'

@Entity('standard_folder')
export class StandardFolder {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int', { nullable: true }) areaId!: number | null
  @ManyToOne(() => PracticeArea) area?: Relation<PracticeArea>
  @Column('varchar') path!: string
  @Column('smallint') place!: number
}

@Entity('paper_folder')
export class PaperFolder {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('varchar') path!: string
}

@Entity('paper')
export class Paper {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('varchar') folder!: string
  @Column('varchar') name!: string
  /** The file of its current version. */
  @Column('bigint') fileId!: number
  @ManyToOne(() => StoredFile) file?: Relation<StoredFile>
  @Column('int', { nullable: true }) templateId!: number | null
  @ManyToOne(() => Template) template?: Relation<Template>
  @Column('int') createdBy!: number
  @ManyToOne(() => UserAccount) @JoinColumn({ name: 'created_by' }) createdByUser?: Relation<UserAccount>
  @Column('varchar') createdAt!: string
  @Column('varchar', { nullable: true }) deletedAt!: string | null
  @Column('varchar', { default: '' }) kind!: string
  @Column('varchar', { default: '' }) author!: string
  @Column('varchar', { nullable: true }) paperOn!: Day | null
  @Column('varchar', { default: '' }) note!: string
  @Column('int', { default: 1 }) versionNo!: number
  @Column('int', { nullable: true }) outTo!: number | null
  @Column('varchar', { nullable: true }) outAt!: string | null
  @Column('varchar', { default: '' }) outNote!: string
  @Column('int', { nullable: true }) deletedBy!: number | null
  @Column('varchar', { default: 'waiting' }) textState!: 'waiting' | 'done' | 'none' | 'failed'
  @Column('int', { default: 1 }) rowVersion!: number
  @Column('longtext', { nullable: true }) madeWith!: string | null
}

@Entity('paper_version')
export class PaperVersion {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') paperId!: number
  @ManyToOne(() => Paper) paper?: Relation<Paper>
  @Column('int') number!: number
  @Column('bigint') fileId!: number
  @ManyToOne(() => StoredFile) file?: Relation<StoredFile>
  @Column('bigint', { nullable: true }) pdfFileId!: number | null
  @ManyToOne(() => StoredFile) pdfFile?: Relation<StoredFile>
  /** The work that makes its PDF, or made it last. */
  @Column('bigint', { nullable: true }) pdfJobId!: number | null
  @Column('varchar', { default: '' }) why!: string
  @Column('int') madeBy!: number
  @ManyToOne(() => UserAccount) @JoinColumn({ name: 'made_by' }) madeByUser?: Relation<UserAccount>
  @Column('varchar') madeAt!: string
  @Column('int', { nullable: true }) templateVersionId!: number | null
  @Column('longtext', { nullable: true }) madeWith!: string | null
}

@Entity('paper_tag')
export class PaperTag {
  @PrimaryColumn('int') paperId!: number
  @ManyToOne(() => Paper) paper?: Relation<Paper>
  @PrimaryColumn('varchar') tag!: string
}

@Entity('paper_text')
export class PaperText {
  @PrimaryColumn('int') paperId!: number
  @ManyToOne(() => Paper) paper?: Relation<Paper>
  @Column('int') matterId!: number
  @Column('int') versionNo!: number
  @Column('mediumtext') body!: string
}

@Entity('upload')
export class Upload {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int', { nullable: true }) userId!: number | null
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('int', { nullable: true }) linkId!: number | null
  @Column('char') secret!: string
  @Column('varchar') name!: string
  @Column('bigint') size!: number
  @Column('bigint', { default: 0 }) received!: number
  @Column('bigint', { nullable: true }) fileId!: number | null
  @ManyToOne(() => StoredFile) file?: Relation<StoredFile>
  @Column('varchar') madeAt!: string
}

@Entity('mail_in')
export class MailIn {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('bigint') fileId!: number
  @ManyToOne(() => StoredFile) file?: Relation<StoredFile>
  @Column('varchar') source!: 'dropped' | 'address'
  @Column('int', { nullable: true }) userId!: number | null
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('varchar', { default: '' }) sentBy!: string
  @Column('varchar', { default: '' }) fromText!: string
  @Column('varchar', { default: '' }) subject!: string
  @Column('varchar', { nullable: true }) messageId!: string | null
  @Column('varchar', { nullable: true }) innerId!: string | null
  @Column('varchar', { nullable: true }) dated!: string | null
  @Column('longtext') summary!: string
  @Column('varchar', { default: 'waiting' }) state!: 'waiting' | 'filed' | 'put aside'
  @Column('varchar') comeAt!: string
  @Column('varchar', { nullable: true }) doneAt!: string | null
  @Column('int', { nullable: true }) doneBy!: number | null
}

@Entity('filed_message')
export class FiledMessage {
  @PrimaryColumn('int') paperId!: number
  @ManyToOne(() => Paper) paper?: Relation<Paper>
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @PrimaryColumn('varchar') messageId!: string
}

@Entity('paper_of_mail')
export class PaperOfMail {
  @PrimaryColumn('int') paperId!: number
  @ManyToOne(() => Paper) paper?: Relation<Paper>
  @Column('int') mailPaperId!: number
  @ManyToOne(() => Paper) mailPaper?: Relation<Paper>
}

@Entity('paper_link')
export class PaperLink {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') matterId!: number
  @ManyToOne(() => Matter) matter?: Relation<Matter>
  @Column('char') tokenHash!: string
  @Column('varchar') forWhom!: string
  @Column('varchar', { default: '' }) email!: string
  @Column('varchar', { default: '' }) message!: string
  @Column('tinyint', { default: 0 }) needsCode!: number
  @Column('tinyint', { default: 0 }) mayUpload!: number
  @Column('varchar', { default: '' }) uploadFolder!: string
  /** All that lies in this folder, also what comes later; null where papers were chosen one by one. */
  @Column('varchar', { nullable: true }) folder!: string | null
  @Column('varchar') endsOn!: Day
  @Column('int') madeBy!: number
  @ManyToOne(() => UserAccount) @JoinColumn({ name: 'made_by' }) madeByUser?: Relation<UserAccount>
  @Column('varchar') madeAt!: string
  @Column('varchar', { nullable: true }) withdrawnAt!: string | null
  @Column('char', { nullable: true }) codeHash!: string | null
  @Column('varchar', { nullable: true }) codeUntil!: string | null
  @Column('tinyint', { default: 0 }) codeTries!: number
  @Column('char', { nullable: true }) passHash!: string | null
}

@Entity('paper_link_item')
export class PaperLinkItem {
  @PrimaryColumn('int') linkId!: number
  @ManyToOne(() => PaperLink) link?: Relation<PaperLink>
  @PrimaryColumn('int') paperId!: number
  @ManyToOne(() => Paper) paper?: Relation<Paper>
}

@Entity('paper_link_visit')
export class PaperLinkVisit {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') linkId!: number
  @ManyToOne(() => PaperLink) link?: Relation<PaperLink>
  @Column('int', { nullable: true }) paperId!: number | null
  @Column('varchar') what!: 'opened' | 'read' | 'sent'
  @Column('varchar') at!: string
  @Column('varchar', { default: '' }) address!: string
}

@Entity('template')
export class Template {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') name!: string
  @Column('varchar', { default: '' }) description!: string
  /** Where papers made from it go. */
  @Column('varchar', { default: 'Correspondence' }) folder!: string
  @Column('bigint') fileId!: number
  @ManyToOne(() => StoredFile) file?: Relation<StoredFile>
  @Column('varchar', { default: '[]' }) fields!: string
  /** Under which head it stands in the list of templates. */
  @Column('varchar', { default: '' }) shelf!: string
  @Column('int', { nullable: true }) areaId!: number | null
  @ManyToOne(() => PracticeArea) area?: Relation<PracticeArea>
  @Column('varchar', { default: '' }) tags!: string
  @Column('varchar', { default: 'en' }) language!: 'en' | 'es'
  @Column('varchar', { default: '' }) namePattern!: string
  @Column('tinyint', { default: 0 }) needsPerson!: number
  @Column('tinyint', { default: 1 }) forAll!: number
  @Column('int', { default: 1 }) versionNo!: number
  @Column('varchar', { nullable: true }) retiredAt!: string | null
  @Column('int', { default: 1 }) rowVersion!: number
}

@Entity('template_version')
export class TemplateVersion {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') templateId!: number
  @ManyToOne(() => Template) template?: Relation<Template>
  @Column('int') number!: number
  @Column('bigint') fileId!: number
  @ManyToOne(() => StoredFile) file?: Relation<StoredFile>
  @Column('varchar', { default: '' }) why!: string
  @Column('int', { nullable: true }) madeBy!: number | null
  @Column('varchar') madeAt!: string
  @Column('longtext') faults!: string
  @Column('longtext') uses!: string
  @Column('longtext') ties!: string
  @Column('longtext') questions!: string
  /** The fields that there were when it was checked, as a hash; it is checked again when they change. */
  @Column('char', { default: '' }) checkedWith!: string
}

@Entity('template_person')
export class TemplatePerson {
  @PrimaryColumn('int') templateId!: number
  @ManyToOne(() => Template) template?: Relation<Template>
  @PrimaryColumn('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
}

@Entity('template_set')
export class TemplateSet {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') name!: string
  @Column('varchar', { default: '' }) description!: string
}

@Entity('template_set_item')
export class TemplateSetItem {
  @PrimaryColumn('int') setId!: number
  @ManyToOne(() => TemplateSet) set?: Relation<TemplateSet>
  @PrimaryColumn('int') templateId!: number
  @ManyToOne(() => Template) template?: Relation<Template>
  @Column('smallint') place!: number
}

@Entity('paper_review')
export class PaperReview {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') paperId!: number
  @ManyToOne(() => Paper) paper?: Relation<Paper>
  @Column('int') versionNo!: number
  @Column('int') fromId!: number
  @ManyToOne(() => UserAccount) from?: Relation<UserAccount>
  @Column('int') toId!: number
  @ManyToOne(() => UserAccount) to?: Relation<UserAccount>
  @Column('varchar', { nullable: true }) dueOn!: Day | null
  @Column('varchar', { default: '' }) message!: string
  @Column('varchar', { default: 'asked' }) state!: 'asked' | 'approved' | 'sent back' | 'withdrawn'
  @Column('varchar', { default: '' }) remarks!: string
  @Column('varchar') askedAt!: string
  @Column('varchar', { nullable: true }) answeredAt!: string | null
}

@Entity('paper_preview')
export class PaperPreview {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('int') userId!: number
  @ManyToOne(() => UserAccount) user?: Relation<UserAccount>
  @Column('int') matterId!: number
  @Column('bigint', { nullable: true }) fileId!: number | null
  @ManyToOne(() => StoredFile) file?: Relation<StoredFile>
  @Column('varchar') madeAt!: string
}

@Entity('mail')
export class FiledMail {
  @PrimaryGeneratedColumn('increment', { type: 'int' }) id!: number
  @Column('varchar') messageKey!: string
  @Column('varchar') toAddress!: string
  @Column('varchar') toName!: string
  @Column('varchar') subject!: string
  @Column('text') body!: string
  @Column('int', { nullable: true }) matterId!: number | null
  @Column('varchar') createdAt!: string
  @Column('varchar', { nullable: true }) sentAt!: string | null
  @Column('varchar', { nullable: true }) calendarMethod!: string | null
  @Column('text', { nullable: true }) calendar!: string | null
  @Column('int', { nullable: true }) fileId!: number | null
  @Column('varchar', { nullable: true }) fileName!: string | null
}

export const paperEntities = [StandardFolder, PaperFolder, Paper, PaperVersion, PaperTag, PaperText, Upload, MailIn, FiledMessage, PaperOfMail, PaperLink, PaperLinkItem, PaperLinkVisit, Template, TemplateVersion, TemplatePerson, TemplateSet, TemplateSetItem, PaperReview, PaperPreview, FiledMail] // prettier-ignore
